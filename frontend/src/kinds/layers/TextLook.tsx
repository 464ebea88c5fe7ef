import { X } from "lucide-react";
import { useState } from "react";
import type { Layer } from "../../api/client";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { type Act, openMenuBelow } from "../../parts/FloatMenu";
import { reachedByKeys } from "../../parts/focus";
import { IconButton } from "../../parts/IconButton";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Flex, Text } from "../../parts/styled";
import { TextInput } from "../../parts/TextInput";
import { Toggle } from "../../parts/Toggle";
import { useFontFacts } from "../../session/projectFonts";
import { useSession } from "../../session/session";
import { type Letters, setSelection } from "../../state/selection";
import { type Font, FontChooser } from "./FontChooser";
import { PaintRow } from "./PaintRow";
import { StrokeRow } from "./StrokeRow";
import { type Scope, type TextContent, useTextScope } from "./textScope";

const COLOURED = /\p{Emoji_Presentation}|\ufe0f/u;
const CASES: [string, string][] = [
  ["typed", "as typed"],
  ["upper", "capitals"],
  ["small capitals", "small capitals"],
];

/** Choose letters, or all again. A button that was pressed by a key goes with its row: the keyboard stays in the block. */
function choose(letters: Letters | null) {
  const pressed = document.activeElement;
  const byKeys = pressed !== null && reachedByKeys(pressed);
  setSelection({ letters });
  if (byKeys)
    window.setTimeout(
      () => document.querySelector<HTMLElement>("[data-testid=panel] [aria-label^='Font:']")?.focus(),
      50,
    );
}

/** Whose look it is that is set: the chosen letters, or all. */
function ScopeRow({ layer }: { layer: Layer }) {
  const scope = useTextScope(layer);
  const session = useSession();
  const parts = (layer.content as TextContent).parts ?? [];
  if (scope.words === undefined) {
    if (!parts.length) return null;
    const { text } = layer.content as TextContent;
    return (
      <Flex role="group" aria-label="Parts" gap="1.5" wrap="wrap" align="center" my="1">
        <RowLabel title="Letters that are set otherwise than the rest: choose them here or on the stage">
          Parts
        </RowLabel>
        {parts.map(({ start, stop, name }) => {
          const words = name || [...text].slice(start, stop).join("");
          return (
            <Pill
              key={`${start} ${stop}`}
              label={`Set the letters “${[...text].slice(start, stop).join("")}”`}
              onClick={() => choose({ layer: layer.id!, start, stop })}
            >
              {words.length > 14 ? `${words.slice(0, 13)}…` : words || "…"}
            </Pill>
          );
        })}
      </Flex>
    );
  }
  const short = scope.words.length > 18 ? `${scope.words.slice(0, 17)}…` : scope.words;
  return (
    <Row label="Chosen letters">
      <RowLabel>Letters</RowLabel>
      <Text flex="1" truncate fontWeight={600} color="act" dir="auto">
        “{short}”
      </Text>
      <PartName key={scope.part?.name ?? ""} name={scope.part?.name ?? ""} layer={layer} scope={scope} />
      {scope.part && (
        <Pill
          px="2"
          label="As the rest: set these letters as all others are"
          disabled={layer.locked}
          onClick={() => {
            const { start, stop } = scope.part!;
            void session.edit({ edit: "set_letters", layer: layer.id!, start, stop, to: {} });
          }}
        >
          As the rest
        </Pill>
      )}
      <IconButton label="Set all letters again, not these alone" onClick={() => choose(null)}>
        <X size={13} />
      </IconButton>
    </Row>
  );
}

/** What the chosen letters are called, for cascades that move them by that name. */
function PartName({ name, layer, scope }: { name: string; layer: Layer; scope: Scope }) {
  const [typed, setTyped] = useState(name);
  const keep = () => {
    const now = typed.trim();
    if (now !== name) scope.set("name", now || null);
  };
  return (
    <TextInput
      aria-label="Name of these letters"
      title="A name, by which a cascade may move them"
      placeholder="Name…"
      width="76px"
      minWidth="0"
      value={typed}
      maxLength={60}
      disabled={layer.locked}
      data-typing="yes"
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter" && !event.repeat) keep();
        if (event.key === "Escape") setTyped(name);
      }}
    />
  );
}

/** The font of a text or of its chosen letters: family, weight, slant, case, features, axes; its fill and its stroke. */
export function TextLook({ layer }: { layer: Layer }) {
  const content = layer.content as TextContent;
  const facts = useFontFacts();
  const scope = useTextScope(layer);
  const font = scope.now("font") as Font;
  const family = facts.fonts.find((one) => one.name === font.family);
  const weights = family?.weights ?? [];
  const axes = scope.now("axes") ?? [];
  const features = scope.now("features") ?? [];
  const { set } = scope;
  const stroke = scope.now("stroke");
  const letters = scope.words !== undefined;
  const offerAxes = (button: Element) => {
    const taken = new Set(axes.map(({ tag }) => tag));
    const free = (family?.axes ?? []).filter(({ tag }) => !taken.has(tag));
    openMenuBelow(
      "Axes of the font",
      [
        free.map(
          ({ tag, name, low, rest, high }): Act => [
            `${name} (${low} to ${high})`,
            () =>
              set("axes", [...axes, { tag, name, low, high, value: { rest: tag === "wght" ? font.weight : rest } }]),
          ],
        ),
        axes.map(
          ({ tag, name }): Act => [
            `Without ${name || tag}`,
            () =>
              set(
                "axes",
                axes.filter((one) => one.tag !== tag),
              ),
          ],
        ),
        (family?.instances ?? []).slice(0, 30).map(
          ({ name, values }): Act => [
            `Style ${name}`,
            () =>
              set(
                "axes",
                (family?.axes ?? []).map((one) => ({
                  tag: one.tag,
                  name: one.name,
                  low: one.low,
                  high: one.high,
                  value: { rest: values[one.tag] ?? one.rest },
                })),
              ),
          ],
        ),
      ].filter((group) => group.length),
      button,
    );
  };
  const offerFeatures = (button: Element) =>
    openMenuBelow(
      "What the letters do",
      (family?.features ?? []).map((name): Act => {
        const on = features.includes(name);
        return [
          on ? `✓ ${name}` : name,
          () => set("features", on ? features.filter((one) => one !== name) : [...features, name]),
        ];
      }),
      button,
    );
  return (
    <>
      <ScopeRow layer={layer} />
      <Row label="Font">
        <RowLabel>Font</RowLabel>
        <FontChooser
          layer={layer}
          font={font}
          text={scope.words ?? content.text}
          edit={(next) => scope.edit("font", next)}
        />
      </Row>
      <Row label="Weight and case">
        <RowLabel>Weight</RowLabel>
        <Select
          label="Weight"
          value={String(font.weight)}
          onChange={(value) => set("font", { ...font, weight: Number(value) })}
          options={[...new Set([...weights, font.weight])].sort((a, b) => a - b).map(String)}
          width="57px"
          disabled={layer.locked || axes.some(({ tag }) => tag === "wght")}
        />
        <Select
          label="Case"
          value={scope.now("case") ?? "typed"}
          onChange={(value) => set("case", value)}
          options={CASES}
          disabled={layer.locked}
        />
      </Row>
      <Flex gap="1.5" wrap="wrap" pl="82px" mb="1">
        {family?.italic && (
          <Toggle
            label="Italic"
            on={font.italic}
            disabled={layer.locked}
            press={() => set("font", { ...font, italic: !font.italic })}
          />
        )}
        {Boolean(family?.axes.length) && (
          <Pill
            label="Axes: weight, width and others of this variable font, to be keyed"
            aria-haspopup="menu"
            disabled={layer.locked}
            onClick={({ currentTarget }) => offerAxes(currentTarget)}
          >
            Axes…
          </Pill>
        )}
        {Boolean(family?.features.length) && (
          <Pill
            label="Features: figures, ligatures, alternates of this font"
            aria-haspopup="menu"
            look={features.length ? "on" : "plain"}
            disabled={layer.locked}
            onClick={({ currentTarget }) => offerFeatures(currentTarget)}
          >
            Features…
          </Pill>
        )}
        {letters && <PartNumbers layer={layer} />}
        {letters ? (
          <Toggle
            label="Own fill"
            on={Boolean(scope.part?.fill)}
            disabled={layer.locked}
            press={() => set("fill", scope.part?.fill ? null : (content.fill ?? "#0e6b61ff"))}
          />
        ) : (
          <Toggle
            label="Fill"
            on={Boolean(content.fill)}
            disabled={layer.locked}
            press={() => set("fill", content.fill ? null : "#1b2628ff")}
          />
        )}
        <Toggle
          label={letters ? "Own stroke" : "Stroke"}
          on={Boolean(letters ? scope.part?.stroke : stroke)}
          disabled={layer.locked}
          press={() =>
            set(
              "stroke",
              (letters ? scope.part?.stroke : stroke) ? null : { colour: "#0e6b61ff", width: 4, join: "round" },
            )
          }
        />
        {letters && content.stroke && (
          <Toggle
            label="No stroke"
            on={Boolean(scope.part?.bare)}
            disabled={layer.locked}
            press={() => set("bare", !scope.part?.bare)}
          />
        )}
        {!letters && content.stroke && (
          <Toggle
            label="Behind"
            title="Behind: the stroke lies behind the fill"
            on={Boolean(content.stroke_behind)}
            disabled={layer.locked}
            press={() => set("stroke_behind", !content.stroke_behind)}
          />
        )}
      </Flex>
      {!letters && (
        <Flex direction="column" gap="5px" mb="1">
          {content.fill && <PaintRow layer={layer} paint="fill" />}
          {content.stroke && <PaintRow layer={layer} paint="stroke" />}
          {content.stroke && <StrokeRow layer={layer} stroke={content.stroke} path="stroke" />}
        </Flex>
      )}
      {!letters && COLOURED.test(content.text) && (
        <Flex pl="82px" mb="1">
          <Toggle
            label="Emoji in the fill"
            title="Emoji in the fill: in its hue, as light and dark as they are"
            on={Boolean(content.tinted)}
            disabled={layer.locked}
            press={() => set("tinted", !content.tinted)}
          />
        </Flex>
      )}
      {!letters && [content.fill, content.stroke?.colour].some((paint) => paint && "gradient" in paint) && (
        <Row label="Gradient over">
          <RowLabel>Across</RowLabel>
          <Select
            label="Gradient over"
            value={content.spread ?? "text"}
            onChange={(value) => set("spread", value)}
            options={[
              ["text", "the whole text"],
              ["line", "each line"],
              ["letter", "each letter"],
            ]}
            disabled={layer.locked}
          />
        </Row>
      )}
    </>
  );
}

const NUMBERS: [string, string, number][] = [
  ["Size", "size", 100],
  ["Tracking", "tracking", 0],
  ["Raised", "raised", 0],
];

/** Numbers that letters have of their own; then they are properties with keys, below. */
function PartNumbers({ layer }: { layer: Layer }) {
  const scope = useTextScope(layer);
  return NUMBERS.map(([label, field, rest]) => {
    const on = Boolean(scope.part?.[field as "size"]);
    return (
      <Toggle
        key={field}
        label={`Own ${label.toLowerCase()}`}
        on={on}
        disabled={layer.locked}
        press={() => scope.set(field, on ? null : { rest })}
      />
    );
  });
}
