import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Edit, type Facts, type KeyRef, need } from "../api/client";
import { factsOf, labelOf } from "../document/properties";
import { isPlain, keyOf } from "../document/tracks";
import { NumberField } from "../fields/NumberField";
import { Window } from "../fields/Window";
import { counted } from "../keys/keys";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { setPage } from "../state/page";
import { useSelection } from "../state/selection";

/** Set, add to or multiply the values of the selected keys, on one axis or all, with a preview of what changes. */
export function EditValuesDialog() {
  return (
    <Window name="values" title="Edit the values of keys" width="520px">
      <Form />
    </Window>
  );
}

type Way = "set" | "add" | "multiply";

/** The keys of one property: values of different kinds are not changed in one go. */
function Form() {
  const session = useSession();
  const facts = useFacts();
  const keys = useSelection((state) => state.keys);
  const numeric = keys.filter((key) => !isPlain(keyValue(session, key)));
  const names = [...new Set(numeric.map((key) => key.property))];
  const [property, setProperty] = useState(names[0] ?? "");
  const mine = numeric.filter((key) => key.property === property);
  const of = (name: string) => session.layer(numeric.find((key) => key.property === name)?.layer ?? "");
  const owner = of(property);
  const parts = owner ? factsOf(owner, property, facts).parts : [""];
  const [axis, setAxis] = useState<string>("all");
  const [way, setWay] = useState<Way>("set");
  const [value, setValue] = useState<number>(() => first(keyValue(session, mine[0])));
  const edit: Edit = {
    edit: "edit_values",
    keys: mine,
    way,
    value,
    axis: parts.length > 1 && axis !== "all" ? (parts.indexOf(axis) as 0 | 1) : null,
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: the preview is tried again whenever a choice changes
  useEffect(() => {
    if (mine.length) session.try([edit]);
  }, [property, axis, way, value]);
  useEffect(() => () => queueMicrotask(() => session.cancel()), [session]);
  if (!mine.length) return <Text>Select keys of numbers in the lanes first.</Text>;
  return (
    <Flex direction="column" gap="2.5">
      {names.length > 1 && (
        <Choice
          label="Property"
          value={property}
          options={names.map((name) => [name, labelOf(of(name)!, name, facts)])}
          onChange={setProperty}
        />
      )}
      <Flex gap="2">
        <Choice
          label="What is done"
          value={way}
          options={[
            ["set", "Set to"],
            ["add", "Add"],
            ["multiply", "Multiply by"],
          ]}
          onChange={(next) => {
            setWay(next);
            setValue(next === "set" ? first(keyValue(session, mine[0])) : next === "add" ? 0 : 1);
          }}
        />
        <NumberField label="Value" unit="" width="92px" read={() => value} keep={setValue} attempt={setValue} />
      </Flex>
      {parts.length > 1 && (
        <Choice
          label="Which axis"
          value={axis}
          options={[["all", "Both"], ...parts.map((part): [string, string] => [part, `${part} only`])]}
          onChange={setAxis}
        />
      )}
      <Preview keys={mine} edit={edit} facts={facts} />
      <Flex justify="flex-end" gap="2">
        <Pill onClick={() => setPage({ dialog: null })}>Leave them</Pill>
        <Pill look="act" onClick={() => void session.edit(edit).then(() => setPage({ dialog: null }))}>
          Change {counted(mine)}
        </Pill>
      </Flex>
    </Flex>
  );
}

type Value = number | string | [number, number] | undefined;

const first = (value: Value) => (Array.isArray(value) ? value[0] : typeof value === "number" ? value : 0);

function keyValue(session: ReturnType<typeof useSession>, ref: KeyRef | undefined): Value {
  return (ref && keyOf(session, ref)?.value) as Value;
}

/** What each key was and what it becomes, as the core computes it. */
function Preview({ keys, edit, facts }: { keys: KeyRef[]; edit: Edit; facts: Facts }) {
  const session = useSession();
  const { revision } = useScene();
  const { data, error } = useQuery({
    queryKey: ["key values", session.sceneId, revision, keys, edit],
    placeholderData: (before) => (before?.before.length === keys.length ? before : undefined),
    gcTime: 0,
    queryFn: () => {
      const params = { path: { scene_id: session.sceneId } };
      return need(api.POST("/api/scenes/{scene_id}/key-values", { params, body: { edits: [edit], keys } }));
    },
  });
  return (
    <Box maxHeight="180px" overflowY="auto" bg="panel" borderRadius="10px" p="2" data-testid="values-preview">
      {keys.map((key, i) => {
        const layer = session.layer(key.layer);
        return (
          <Flex key={`${key.layer}${key.frame}`} gap="2" fontSize="row">
            <Text width="190px" truncate color="quiet">
              {layer?.name}, {layer && labelOf(layer, key.property, facts)}, frame {key.frame}
            </Text>
            <Text>
              {inWords(data?.before[i])} → <b>{inWords(data?.after[i])}</b>
            </Text>
          </Flex>
        );
      })}
      {(error || (data?.notices.length ?? 0) > 0) && (
        <Text role="status" mt="1" fontSize="row">
          {error?.message ?? data?.notices.join(" ")}
        </Text>
      )}
    </Box>
  );
}

const inWords = (value: string | number | number[] | null | undefined) =>
  value === null || value === undefined
    ? "…"
    : [value]
        .flat()
        .map((n) => Math.round(Number(n) * 1000) / 1000)
        .join(", ");
