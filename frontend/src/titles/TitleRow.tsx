import { Copy, Download, Trash2 } from "lucide-react";
import { memo } from "react";
import type { Edit, ExportAnswer } from "../api/client";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { ProgressBar } from "../parts/ProgressBar";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import type { SlotFacts } from "../slots/useSlots";
import { TitleCell } from "./TitleCell";
import type { Row, Trouble } from "./useRows";

interface Props {
  row: Row;
  index: number;
  slots: SlotFacts[];
  columns: string;
  troubles: Trouble[] | null;
  file: string;
  picture: string;
  job?: ExportAnswer;
  paste: (text: string, row: number, column: number) => void;
  again: (job: ExportAnswer, what: "cancel" | "again") => void;
}

/** A row of the table: what is typed, the title as it will be, and what needs a look in it. */
export const TitleRow = memo(({ row, index, slots, columns, troubles, file, picture, job, paste, again }: Props) => {
  const session = useSession();
  const edit = (...edits: object[]) => session.edit(...(edits as unknown as Edit[]));
  const typed = (slot: string) => row.cells?.find((cell) => cell.slot === slot)?.text ?? null;
  const open = (troubles?.length ?? 0) > 0 && !row.accepted;
  return (
    <Box
      role="row"
      aria-rowindex={index + 2}
      display="grid"
      gridTemplateColumns={columns}
      height="100%"
      borderBottomWidth="1px"
      borderColor="edge"
      bg={open ? "finding" : undefined}
      data-testid="title-row"
    >
      <Flex role="rowheader" align="center" px="1" gap="0.5">
        <Text color="quiet" width="26px" textAlign="right">
          {index + 1}
        </Text>
        <Flex direction="column">
          <IconButton
            label={`Another row like row ${index + 1}`}
            onClick={() => void edit({ edit: "add_rows", rows: [{ cells: row.cells }], at: index + 1 })}
          >
            <Copy size={12} />
          </IconButton>
          <IconButton
            label={`Delete row ${index + 1}`}
            onClick={() => void edit({ edit: "delete_rows", rows: [row.id] })}
          >
            <Trash2 size={12} />
          </IconButton>
        </Flex>
      </Flex>
      {slots.map((slot, column) => (
        <Box role="gridcell" key={slot.id} borderLeftWidth="1px" borderColor="edge" minWidth="0">
          <TitleCell
            label={`${slot.name}, row ${index + 1}`}
            text={typed(slot.id)}
            sample={slot.written.replace(/\n/g, " ")}
            row={index}
            column={column}
            colour={slot.kind === "colour"}
            words={slot.kind === "text"}
            take={(text) => edit({ edit: "set_cells", cells: [{ row: row.id, slot: slot.id, text }] })}
            paste={(text) => paste(text, index, column)}
          />
        </Box>
      ))}
      <Flex role="gridcell" align="center" justify="center" borderLeftWidth="1px" borderColor="edge">
        <chakra.img
          src={picture}
          alt={`Row ${index + 1} as it will be`}
          maxWidth="100%"
          maxHeight="62px"
          bg="surround"
          borderRadius="3px"
        />
      </Flex>
      <Flex
        role="gridcell"
        direction="column"
        justify="center"
        gap="0.5"
        px="2"
        borderLeftWidth="1px"
        borderColor="edge"
        overflowY="auto"
        minWidth="0"
      >
        {job ? (
          <Job job={job} again={again} />
        ) : open ? null : (
          <Text color="quiet" truncate title={file}>
            {troubles === null ? "is looked at…" : row.accepted && troubles.length ? "as it is" : file}
          </Text>
        )}
        {open &&
          troubles!.map((trouble) => (
            <Mends key={`${trouble.slot} ${trouble.sentence}`} row={row} trouble={trouble} edit={edit} />
          ))}
        {open && (
          <Pill
            height="22px"
            px="2"
            alignSelf="flex-start"
            onClick={() => void edit({ edit: "mend_row", row: row.id, accepted: true })}
          >
            Leave it as it is
          </Pill>
        )}
        {!open && row.mends?.map((mend) => <Mended key={mend.slot} row={row} mend={mend} slots={slots} edit={edit} />)}
      </Flex>
    </Box>
  );
});

type Change = (...edits: object[]) => unknown;

/** What needs a look, and the presses that mend it. */
function Mends({ row, trouble, edit }: { row: Row; trouble: Trouble; edit: Change }) {
  const now = row.mends?.find(({ slot }) => slot === trouble.slot);
  const mend = (change: object) =>
    void edit({ edit: "mend_row", row: row.id, mend: { slot: trouble.slot, ...now, ...change } });
  return (
    <Box>
      <Text color="findingInk" lineHeight="15px">
        {trouble.sentence}
      </Text>
      <Flex gap="1">
        {trouble.size !== null && (
          <Pill height="22px" px="2" onClick={() => mend({ size: trouble.size })}>
            Shrink to {trouble.size} %
          </Pill>
        )}
        {trouble.lines && (
          <Pill height="22px" px="2" onClick={() => mend({ lines: true })}>
            Two lines
          </Pill>
        )}
      </Flex>
    </Box>
  );
}

/** How a text is mended, and the press that takes it back. */
function Mended({
  row,
  mend,
  slots,
  edit,
}: {
  row: Row;
  mend: NonNullable<Row["mends"]>[number];
  slots: SlotFacts[];
  edit: Change;
}) {
  const name = slots.find(({ id }) => id === mend.slot)?.name ?? "Gone";
  const how = [mend.size! < 100 && `${mend.size} %`, mend.lines && "two lines"].filter(Boolean).join(", ");
  return (
    <Flex gap="1" align="center" color="quiet">
      <Text truncate>
        {name}: {how}
      </Text>
      <Pill
        height="20px"
        px="1.5"
        look="bare"
        onClick={() => void edit({ edit: "mend_row", row: row.id, mend: { slot: mend.slot, size: 100, lines: false } })}
      >
        as typed
      </Pill>
    </Flex>
  );
}

/** How the file of a row stands. */
function Job({ job, again }: { job: ExportAnswer; again: Props["again"] }) {
  const open = job.state === "queued" || job.state === "running";
  return (
    <Flex align="center" gap="1.5" data-testid="title-job" data-state={job.state}>
      {open && <ProgressBar label={job.file || "Title"} done={job.done} total={job.total} />}
      {open && <Text color="quiet">{job.state === "queued" ? "waits" : `${job.done} of ${job.total}`}</Text>}
      {open && (
        <Pill height="22px" px="2" onClick={() => again(job, "cancel")}>
          Stop
        </Pill>
      )}
      {job.state === "done" && (
        <chakra.a
          href={`/api/exports/${job.id}/file`}
          download={job.file}
          display="inline-flex"
          alignItems="center"
          gap="1"
          color="act"
          fontWeight={600}
          minWidth="0"
        >
          <Download size={13} /> <chakra.span truncate>{job.file}</chakra.span>
        </chakra.a>
      )}
      {(job.state === "failed" || job.state === "cancelled") && (
        <>
          <Text color={job.state === "failed" ? "findingInk" : "quiet"}>{job.failure || "stopped"}</Text>
          <Pill height="22px" px="2" onClick={() => again(job, "again")}>
            Start again
          </Pill>
        </>
      )}
    </Flex>
  );
}
