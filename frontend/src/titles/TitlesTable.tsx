import { useVirtualizer } from "@tanstack/react-virtual";
import { FileUp, Redo2, Undo2 } from "lucide-react";
import { useRef, useState } from "react";
import type { ExportAnswer } from "../api/client";
import { TimeField } from "../fields/TimeField";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { useSlots } from "../slots/useSlots";
import { setExporting, useExporting } from "../state/exporting";
import { TitleRow } from "./TitleRow";
import { useRows } from "./useRows";
import { useTakeRows } from "./useTakeRows";
import { useTitleFiles } from "./useTitleFiles";

const HEIGHT = 74;

/** The table: rows as they will be, what needs a look, and one file of each. */
export function TitlesTable() {
  const session = useSession();
  const facts = useFacts();
  const { scene } = useScene();
  const slots = useSlots().filter(({ value }) => value !== null);
  const { kind, choices } = useExporting();
  const [frame, setFrame] = useState(() => Math.floor(scene.length / 2));
  const [pattern, setPattern] = useState(() => slots.slice(0, 1).map(({ name }) => `{row} {${name}}`)[0] ?? "");
  const [seen, setSeen] = useState<[number, number]>([0, 12]);
  const shown = pattern || (slots[0] ? `{row} {${slots[0].name}}` : "{row} {scene}");
  const { rows, version, keyOfRow, troublesOf, fileOf, wrongPattern, looking } = useRows(frame, shown, seen);
  const { jobs, start, ask, stopAll } = useTitleFiles();
  const { said, takeText, takeFile, pasteAt } = useTakeRows(rows, slots);
  const home = useRef<HTMLDivElement>(null);
  const file = useRef<HTMLInputElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => home.current,
    estimateSize: () => HEIGHT,
    overscan: 4,
    onChange: (instance) => {
      const { range } = instance;
      if (range && (range.startIndex !== seen[0] || range.endIndex + 1 !== seen[1]))
        queueMicrotask(() => setSeen([range.startIndex, range.endIndex + 1]));
    },
  });
  const wrong = rows.filter((row) => !row.accepted && (troublesOf(row)?.length ?? 0) > 0);
  const ready = rows.filter((row) => row.accepted || troublesOf(row)?.length === 0);
  const columns = `62px repeat(${slots.length}, minmax(90px, 1fr)) 156px minmax(190px, 1.3fr)`;
  const titled = Object.entries(facts.formats).filter(([, { group }]) => group !== "edit");
  /** Titles are on their way: Space on the button starts them no second time. */
  const busy = jobs.some(isOpen);
  const addRow = () => session.edit({ edit: "add_rows", rows: [{ cells: [] }] } as never);
  if (!slots.length)
    return <Text color="quiet">This scene has no slots yet: make a property a slot in the panel of its layer.</Text>;
  return (
    <Box>
      <Flex align="center" gap="2" flexWrap="wrap" mb="2">
        <Text color="quiet">as at</Text>
        <TimeField label="Shown as at" frame={frame} most={scene.length - 1} keep={setFrame} />
        <Text color="quiet">files</Text>
        <TextInput
          aria-label="Names of the files"
          title={`Names of slots in braces, {row} and {scene}: ${slots.map(({ name }) => `{${name}}`).join(" ")}`}
          value={pattern}
          placeholder={shown}
          maxLength={300}
          spellCheck={false}
          data-typing="yes"
          width="190px"
          onChange={(event) => setPattern(event.target.value)}
        />
        <Box width="150px">
          <Select
            label="Format"
            value={kind}
            options={titled.map(([name, { label }]): [string, string] => [name, label])}
            onChange={(kind) => setExporting({ kind, choices: {} })}
            stays
          />
        </Box>
        <IconButton label="Undo" onClick={() => void session.undo()}>
          <Undo2 size={15} />
        </IconButton>
        <IconButton label="Redo" onClick={() => void session.redo()}>
          <Redo2 size={15} />
        </IconButton>
        <Box flex="1" />
        {wrong.length > 0 && (
          <Text bg="finding" color="findingInk" borderRadius="control" px="2" py="0.5" aria-live="polite">
            {wrong.length === 1 ? "1 row needs a look" : `${wrong.length} rows need a look`}
          </Text>
        )}
        <Pill onClick={() => void addRow()}>Add a row</Pill>
        <Pill onClick={() => file.current!.click()}>
          <FileUp size={14} /> CSV, XLSX…
        </Pill>
        {busy && <Pill onClick={() => void stopAll()}>Stop all</Pill>}
        <Pill
          look="act"
          disabled={busy || !ready.length || Boolean(wrongPattern)}
          onClick={() => void start(ready, kind, choices, shown, facts.formats[kind]?.still ? frame : null)}
        >
          {looking ? "Looking…" : `Render ${ready.length} of ${rows.length}`}
        </Pill>
        <chakra.input
          ref={file}
          type="file"
          accept=".csv,.tsv,.txt,.xlsx"
          display="none"
          data-testid="titles-file"
          onChange={(event) => {
            const [given] = event.target.files ?? [];
            if (given) void takeFile(given);
            event.target.value = "";
          }}
        />
      </Flex>
      {(wrongPattern || said) && (
        <Text role="status" mb="2" bg="finding" color="findingInk" borderRadius="control" px="2" py="1">
          {wrongPattern || said}
        </Text>
      )}
      <Box role="table" aria-label="Titles" aria-rowcount={rows.length + 1} borderWidth="1px" borderColor="edge">
        <Box
          role="row"
          display="grid"
          gridTemplateColumns={columns}
          bg="panel"
          fontWeight={600}
          borderBottomWidth="1px"
          borderColor="edge"
          pr={rows.length > 6 ? "10px" : undefined}
        >
          {["", ...slots.map(({ name }) => `# ${name}`), "as it will be", "file"].map((head, at) => (
            <Text key={at} role="columnheader" px="2" py="1" color="quiet" truncate>
              {head}
            </Text>
          ))}
        </Box>
        {rows.length === 0 ? (
          <Empty paste={takeText} />
        ) : (
          <Box ref={home} height="min(520px, calc(100vh - 260px))" overflowY="auto" data-testid="titles-rows">
            <Box height={`${list.getTotalSize()}px`} position="relative">
              {list.getVirtualItems().map((item) => {
                const row = rows[item.index];
                return (
                  <div
                    key={row.id}
                    style={{ position: "absolute", left: 0, right: 0, top: item.start, height: HEIGHT }}
                  >
                    <TitleRow
                      row={row}
                      index={item.index}
                      slots={slots}
                      columns={columns}
                      troubles={troublesOf(row)}
                      file={fileOf(row)}
                      picture={`/api/scenes/${session.sceneId}/table/rows/${row.id}/still?frame=${frame}&width=288&v=${version}-${keyOfRow(row)}`}
                      job={jobs.find((job) => job.row === row.id)}
                      paste={pasteAt}
                      again={ask}
                    />
                  </div>
                );
              })}
            </Box>
          </Box>
        )}
      </Box>
    </Box>
  );
}

const isOpen = (job: ExportAnswer) => job.state === "queued" || job.state === "running";

/** Where rows are pasted before there are any. */
function Empty({ paste }: { paste: (text: string) => Promise<boolean> }) {
  const [text, setText] = useState("");
  const take = async () => (await paste(text)) && setText("");
  return (
    <Box p="4">
      <Text mb="2">
        Paste rows of a spreadsheet here, open a CSV or XLSX file, or add a row and type. A first row with the names of
        slots says which column is which.
      </Text>
      <chakra.textarea
        aria-label="Rows of a spreadsheet"
        value={text}
        rows={4}
        width="100%"
        p="2"
        bg="well"
        borderWidth="1px"
        borderColor="field"
        borderRadius="control"
        data-typing="yes"
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) void take();
        }}
        onPaste={(event) => {
          const given = event.clipboardData.getData("text/plain");
          if (text || !/[\t\n;,]/.test(given.trim())) return;
          event.preventDefault();
          void paste(given);
        }}
      />
      <Pill mt="2" disabled={!text.trim()} onClick={() => void take()}>
        Take the rows
      </Pill>
    </Box>
  );
}
