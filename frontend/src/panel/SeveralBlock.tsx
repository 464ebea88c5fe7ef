import { useState } from "react";
import type { Edit, Facts, Layer } from "../api/client";
import { heardOnly } from "../document/contents";
import { Row } from "../fields/Row";
import { RowLabel } from "../fields/RowLabel";
import { timecode } from "../geometry/times";
import { type Font, FontChooser } from "../kinds/layers/FontChooser";
import { useDraft } from "../parts/draft";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, Flex } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { Toggle } from "../parts/Toggle";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { say } from "../state/page";

const MIXED = "several";
type Changes = Edit | Edit[];

/** What several layers have that is no track: whether they are shown, their spans, carriers, blending, names, words. */
export function SeveralBlock({ layers, facts }: { layers: Layer[]; facts: Facts }) {
  const session = useSession();
  const { scene } = useScene();
  const ids = layers.map(({ id }) => id!);
  const send = (edits: Changes) => session.edit(...[edits].flat());
  const same = <T,>(of: (layer: Layer) => T): T | typeof MIXED => {
    const first = of(layers[0]);
    return layers.every((layer) => of(layer) === first) ? first : MIXED;
  };
  const shown = same((layer) => layer.visible !== false);
  const held = same((layer) => layer.locked === true);
  const locked = held !== false;
  const blend = same((layer) => layer.blend ?? "normal");
  const carrier = same((layer) => layer.carrier ?? "");
  const placed = layers.every((layer) => !heardOnly(layer.content));
  // What one of them carries itself, of itself or by way of others, cannot carry it.
  const all = scene.layers ?? [];
  const carried = (id: string | null | undefined): boolean => {
    const one = all.find((other) => other.id === id);
    return one !== undefined && (ids.includes(one.id!) || carried(one.carrier));
  };
  const carriers = all.filter((one) => !heardOnly(one.content) && !carried(one.id));
  const { frame } = session.frames;
  const mixed = (value: string): [string, string][] => (value === MIXED ? [[MIXED, MIXED]] : []);
  return (
    <Box borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5" role="group" aria-label="All of them">
      <Row label="Shown">
        <RowLabel>All</RowLabel>
        <Toggle
          label={shown === MIXED ? "some shown" : "Shown"}
          on={shown === true}
          press={() => void send({ edit: "set_visible", layers: ids, visible: shown !== true })}
        />
        <Toggle
          label={held === MIXED ? "some locked" : "Locked"}
          on={held === true}
          press={() => void send({ edit: "set_locked", layers: ids, locked: held !== true })}
        />
      </Row>
      <Row label="Spans">
        <RowLabel>Span</RowLabel>
        {(["start", "length"] as const).map((part) => {
          const value = same(({ span }) => span[part]);
          return (
            <Typed
              key={part}
              label={part === "start" ? "Start of the spans" : "Length of the spans"}
              text={value === MIXED ? MIXED : timecode(value as number, scene)}
              take={(text) => send({ edit: "set_spans", layers: ids, [part]: text } as Edit)}
              disabled={locked}
              width="57px"
            />
          );
        })}
      </Row>
      {placed && (
        <Row label="Carrier">
          <RowLabel title="Position, scale and rotation go along with it">Carried by</RowLabel>
          <Select
            label="Carried by"
            value={carrier}
            options={[
              ...mixed(carrier),
              ["", "nothing"],
              ...carriers.map((one): [string, string] => [one.id!, one.name]),
            ]}
            disabled={locked}
            onChange={(id) =>
              id !== MIXED &&
              void send({
                edit: "carry_layers",
                layers: ids,
                carrier: id || null,
                frame,
                keep: id ? "frame" : "throughout",
              })
            }
          />
        </Row>
      )}
      {placed && (
        <Row label="Blending">
          <RowLabel>Blend</RowLabel>
          <Select
            label="Blend"
            width="120px"
            value={blend}
            options={[...mixed(blend), ...facts.blends.map((one): [string, string] => [one, one.replace("-", " ")])]}
            disabled={locked}
            onChange={(one) => one !== MIXED && void send({ edit: "set_blend", layers: ids, blend: one } as Edit)}
          />
        </Row>
      )}
      <Row label="Names">
        <RowLabel title="{n} stands for a number: Bar {n}">Name</RowLabel>
        <Typed
          label="Name of all, with {n} for a number"
          text=""
          placeholder="Bar {n}"
          take={(text) =>
            text.trim() ? send({ edit: "rename_layers", layers: inLanes(all, ids), name: text.trim() }) : true
          }
          width="180px"
        />
      </Row>
      <Fonts layers={layers} />
      <Words layers={layers} locked={locked} />
    </Box>
  );
}

/** Layers as the lanes show them, the front one first. */
const inLanes = (all: Layer[], ids: string[]) =>
  all
    .map(({ id }) => id!)
    .filter((id) => ids.includes(id))
    .reverse();

type Lettered = { text: string; font?: Font };

/** The family of the texts; weight and slant stay each one's own. */
function Fonts({ layers }: { layers: Layer[] }) {
  const texts = layers.filter((layer) => layer.content.kind === "text");
  if (!texts.length) return null;
  const fonts = texts.map(({ content }) => (content as Lettered).font!);
  const mixed = fonts.some(({ family }) => family !== fonts[0].family);
  return (
    <Row label="Font">
      <RowLabel>Font</RowLabel>
      <FontChooser
        layer={texts[0]}
        font={mixed ? { ...fonts[0], family: MIXED } : fonts[0]}
        text={(texts[0].content as Lettered).text}
        edit={(next) =>
          texts.map(({ id }, i): Edit => {
            const { weight, italic } = fonts[i];
            return { edit: "set_content", layer: id!, path: "font", value: { ...next, weight, italic } };
          })
        }
      />
    </Row>
  );
}

/** Words found in the texts of the layers, and others put in their place. */
function Words({ layers, locked }: { layers: Layer[]; locked: boolean }) {
  const session = useSession();
  const [find, setFind] = useState("");
  const [to, setTo] = useState("");
  const texts = layers.filter((layer) => layer.content.kind === "text");
  if (!texts.length) return null;
  const count = find
    ? texts.reduce((sum, { content }) => sum + (content as { text: string }).text.split(find).length - 1, 0)
    : 0;
  const replace = async () => {
    const layers = texts.map(({ id }) => id!);
    if (!find) return;
    const kept = await session.edit({ edit: "replace_words", layers, find, to } as Edit);
    if (kept) say(`Replaced ${count === 1 ? "one place" : `${count} places`}.`, true);
  };
  const enter = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Enter" && !event.repeat && !event.nativeEvent.isComposing) void replace();
  };
  const plain = {
    "data-typing": "yes",
    height: "24px",
    px: "1.5",
    flex: "1",
    minWidth: "0",
    spellCheck: false,
    autoComplete: "off",
  };
  return (
    <Flex align="center" gap="1" mt="1">
      <TextInput
        aria-label="Find in the texts"
        placeholder="find"
        value={find}
        maxLength={1000}
        {...plain}
        onChange={(event) => setFind(event.target.value)}
        onKeyDown={enter}
      />
      <TextInput
        aria-label="Replace with"
        placeholder="replace with"
        value={to}
        maxLength={1000}
        {...plain}
        onChange={(event) => setTo(event.target.value)}
        onKeyDown={enter}
      />
      <Pill height="control" px="2" disabled={!count || locked} onClick={() => void replace()}>
        {`Replace ${count || ""}`.trim()}
      </Pill>
    </Flex>
  );
}

interface TypedProps {
  label: string;
  text: string;
  placeholder?: string;
  take: (text: string) => boolean | Promise<boolean>;
  disabled?: boolean;
  width: string;
}

/** A field whose text the core reads. */
function Typed({ label, text, placeholder, take, disabled, width }: TypedProps) {
  const { props } = useDraft<HTMLInputElement>({ shown: () => text, take: (typed) => take(typed) });
  return (
    <TextInput
      {...props}
      aria-label={label}
      title={label}
      placeholder={placeholder}
      disabled={disabled}
      autoComplete="off"
      spellCheck={false}
      width={width}
      height="24px"
      px="1.5"
    />
  );
}
