import { useState } from "react";
import type { ExportChoices, FormatFacts } from "../api/client";
import { Choice } from "../parts/Choice";
import { Select } from "../parts/Select";
import { Slider } from "../parts/Slider";
import { Switch } from "../parts/Switch";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useScene } from "../session/useScene";
import { choose } from "../state/exporting";
import { say } from "../state/page";
import { selection } from "../state/selection";

const QUALITY = 80;
const SCALES: [string, string][] = [
  ["0.5", "half"],
  ["1", "as the scene"],
  ["2", "twice"],
  ["", "a width of"],
];
const STARTS: [NonNullable<ExportChoices["starts"]>, string][] = [
  ["at once", "at once"],
  ["press", "by a press"],
  ["hover", "under the pointer"],
  ["scroll", "as it is scrolled"],
];
const PLAYS: [string, string][] = [
  ["0", "without end"],
  ["1", "once"],
  ["2", "twice"],
  ["3", "three times"],
  ["5", "five times"],
];

interface Props {
  format: FormatFacts;
  choices: ExportChoices;
  transparent: boolean;
}

/** What can be chosen of a format besides its frames. */
export function ChoiceRows({ format, choices, transparent }: Props) {
  const takes = (name: string) => format.takes.includes(name);
  const through = transparent && !choices.behind;
  return (
    <>
      {takes("scale") && <SizeRow choices={choices} />}
      {takes("rate") && <RateRow choices={choices} />}
      {takes("quality") && <QualityRow choices={choices} sized={takes("most")} />}
      {takes("behind") && transparent && <BehindRow choices={choices} alpha={format.alpha} />}
      {takes("premultiplied") && through && (
        <Line title="Alpha">
          <Choice
            label="Alpha"
            value={choices.premultiplied ? "premultiplied" : "straight"}
            options={[
              ["straight", "straight"],
              ["premultiplied", "premultiplied"],
            ]}
            onChange={(way) => choose({ premultiplied: way === "premultiplied" || undefined })}
          />
        </Line>
      )}
      {takes("plays") && (
        <Line title="Plays">
          <Select
            label="Plays"
            width="130px"
            value={String(choices.plays ?? 0)}
            options={PLAYS}
            onChange={(times) => choose({ plays: Number(times) || undefined })}
            stays
          />
        </Line>
      )}
      {takes("values") && (
        <Line title="Values of">
          <Choice
            label="Values of"
            value={choices.values ? "selected" : "moving"}
            options={[
              ["moving", "all that moves"],
              ["selected", "selected layers"],
            ]}
            onChange={(which) => {
              const layers = selection().selected.map((id) => id.split("/")[0]);
              if (which !== "selected") choose({ values: undefined });
              else if (layers.length) choose({ values: layers });
              else say("No layer is selected: close this window, select some, then choose them here.");
            }}
          />
        </Line>
      )}
      {takes("letters") && (
        <Line title="Letters">
          <Choice
            label="Letters"
            value={choices.letters ?? "outlines"}
            options={[
              ["outlines", "outlines"],
              ["text", "text, its font within"],
            ]}
            onChange={(letters) => choose({ letters: letters === "text" ? "text" : undefined })}
          />
        </Line>
      )}
      {takes("starts") && (
        <Line title="Begins">
          <Select
            label="Begins"
            width="150px"
            value={choices.starts ?? "at once"}
            options={STARTS}
            onChange={(starts) =>
              choose({ starts: starts === "at once" ? undefined : (starts as ExportChoices["starts"]) })
            }
            stays
          />
        </Line>
      )}
      {takes("sound") && (
        <Line title="Sound">
          <Switch
            text="with its sound"
            on={choices.sound !== false}
            set={(on) => choose({ sound: on ? undefined : false })}
          />
        </Line>
      )}
    </>
  );
}

export function Line({ title, children }: { title: React.ReactNode; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="2" minHeight="28px">
      <Box width="116px" flexShrink={0}>
        {title}
      </Box>
      {children}
    </Flex>
  );
}

function SizeRow({ choices }: { choices: ExportChoices }) {
  const { scene } = useScene();
  const scale = choices.scale ?? 1;
  const named = SCALES.some(([known]) => known === String(scale));
  const [typing, setTyping] = useState(!named);
  const wide = Math.max(Math.round(scene.width * scale), 1);
  const high = Math.max(Math.round(scene.height * scale), 1);
  const [width, setWidth] = useState(String(wide));
  const take = (text: string) => {
    setWidth(text);
    const pixels = Number(text);
    if (Number.isInteger(pixels) && pixels > 0) choose({ scale: pixels / scene.width });
  };
  return (
    <Line title="Size">
      <Select
        label="Size"
        width="112px"
        value={typing ? "" : String(scale)}
        options={SCALES}
        onChange={(which) => {
          setTyping(which === "");
          if (which === "") setWidth(String(wide));
          else choose({ scale: Number(which) === 1 ? undefined : Number(which) });
        }}
        stays
      />
      {typing && (
        <TextInput
          aria-label="Width"
          value={width}
          inputMode="numeric"
          width="58px"
          aria-invalid={!(Number.isInteger(Number(width)) && Number(width) > 0)}
          onChange={(event) => take(event.target.value)}
        />
      )}
      <Text color="quiet">
        {typing ? "" : `${wide} `}× {high} px
      </Text>
    </Line>
  );
}

/** Frames a second as a fraction: 25, 29.97 or 30000/1001. */
function rateOf(text: string): [number, number] | null {
  const parts = text.replace(",", ".").split("/").map(Number);
  if (parts.length > 2 || parts.some((part) => !(part > 0))) return null;
  if (parts.length === 2) return parts.every(Number.isInteger) ? [parts[0], parts[1]] : null;
  if (Number.isInteger(parts[0])) return [parts[0], 1];
  const ntsc = Math.round(parts[0]) * 1000;
  return Math.abs(ntsc / 1001 - parts[0]) < 0.005 ? [ntsc, 1001] : [Math.round(parts[0] * 1000), 1000];
}

function RateRow({ choices }: { choices: ExportChoices }) {
  const { scene } = useScene();
  const own = scene.frame_rate;
  const said = (rate: readonly number[]) => (rate[1] === 1 ? String(rate[0]) : String(+(rate[0] / rate[1]).toFixed(3)));
  const [text, setText] = useState(said(choices.rate ?? own));
  const rate = rateOf(text);
  return (
    <Line title="Frame rate">
      <TextInput
        aria-label="Frame rate"
        value={text}
        inputMode="decimal"
        width="64px"
        aria-invalid={!rate}
        onChange={(event) => {
          setText(event.target.value);
          const typed = rateOf(event.target.value);
          if (typed) choose({ rate: typed[0] * own[1] === own[0] * typed[1] ? undefined : typed });
        }}
      />
      <Text color="quiet">{choices.rate ? `frames a second; the scene has ${said(own)}` : "frames a second"}</Text>
    </Line>
  );
}

function QualityRow({ choices, sized }: { choices: ExportChoices; sized: boolean }) {
  const quality = choices.quality ?? QUALITY;
  const [most, setMost] = useState(String(choices.most ?? 5));
  const bySize = choices.most != null;
  const take = (text: string) => {
    setMost(text);
    const megabytes = Number(text.replace(",", "."));
    if (megabytes > 0) choose({ most: megabytes, quality: undefined });
  };
  return (
    <Line
      title={
        sized ? (
          <Choice
            label="Quality or size"
            value={bySize ? "size" : "quality"}
            options={[
              ["quality", "quality"],
              ["size", "size"],
            ]}
            onChange={(way) => (way === "size" ? take(most) : choose({ most: undefined }))}
          />
        ) : (
          "Quality"
        )
      }
    >
      {bySize ? (
        <>
          <Text>at most</Text>
          <TextInput
            aria-label="Megabytes at most"
            value={most}
            inputMode="decimal"
            width="58px"
            aria-invalid={!(Number(most.replace(",", ".")) > 0)}
            onChange={(event) => take(event.target.value)}
          />
          <Text>MB</Text>
        </>
      ) : (
        <>
          <Text color="quiet">smaller</Text>
          <Slider
            label="Quality"
            value={quality}
            set={(value) => choose({ quality: value === QUALITY ? undefined : value })}
            least={1}
            most={100}
            width={120}
          />
          <Text color="quiet">better · {quality}</Text>
        </>
      )}
    </Line>
  );
}

function BehindRow({ choices, alpha }: { choices: ExportChoices; alpha: boolean }) {
  return (
    <Line title="Behind it">
      <Choice
        label="Behind it"
        value={choices.behind ? "colour" : "nothing"}
        options={[
          ["nothing", alpha ? "nothing" : "black"],
          ["colour", "a colour"],
        ]}
        onChange={(way) => choose({ behind: way === "colour" ? "#ffffffff" : undefined, premultiplied: undefined })}
      />
      {choices.behind && (
        <chakra.input
          type="color"
          aria-label="Colour behind it"
          value={choices.behind.slice(0, 7)}
          onChange={(event: React.ChangeEvent<HTMLInputElement>) => choose({ behind: `${event.target.value}ff` })}
          width="34px"
          height="control"
        />
      )}
    </Line>
  );
}
