import { useState } from "react";
import type { Edit, Layer } from "../api/client";
import { NumberField } from "../fields/NumberField";
import { TimeField } from "../fields/TimeField";
import { STATIONS } from "../geometry/layerGeometry";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { Box, Flex, Text } from "../parts/styled";
import { useTryAndPlay } from "../play/tryAndPlay";
import { useSession } from "../session/session";

type Side = "none" | "left" | "right" | "top" | "bottom";

interface Props {
  layers: Layer[];
  way: "in" | "out";
}

/** “Bring in…” and “Take out…”: the start or end of a motion, made from where the layers have landed. */
export function EntranceButton({ layers, way }: Props) {
  const [short, long] = way === "in" ? ["In…", "Bring in…"] : ["Out…", "Take out…"];
  const button = (
    <Pill height="24px" px="1.5" flex="1" fontSize="row" title={long}>
      {short}
    </Pill>
  );
  return (
    <Popover
      label={way === "in" ? "Bring in" : "Take out"}
      width="290px"
      placement="top-end"
      testId={way === "in" ? "bring-in" : "take-out"}
      trigger={button}
    >
      {(close) => <Form layers={layers} way={way} done={close} />}
    </Popover>
  );
}

/** The ways, which may be mixed; what they make is tried on the stage while they are chosen. */
function Form({ layers, way, done }: Props & { done: () => void }) {
  const session = useSession();
  const [side, setSide] = useState<Side>("left");
  const [station, setStation] = useState("");
  const [angle, setAngle] = useState(0);
  const [transparent, setTransparent] = useState(false);
  const [length, setLength] = useState(12);
  const [landed] = useState(session.frames.frame);
  const ids = layers.map((layer) => layer.id!);
  const chosen = side !== "none" || station !== "" || angle !== 0 || transparent;
  const edit = {
    edit: way === "in" ? "bring_in" : "take_out",
    layers: ids,
    frame: landed,
    length,
    side: side === "none" ? null : side,
    station: station || null,
    angle: angle || null,
    transparent,
  } as Edit;
  const other = way === "in" ? landed - length : landed + length;
  useTryAndPlay(chosen ? edit : null, [Math.min(other, landed), Math.max(other, landed)], landed);
  const take = () => {
    if (!chosen) return;
    done();
    void session.edit(edit).then(() => session.frames.seek(landed));
  };
  /** Enter takes it, but for a number that is being typed and a control that Enter presses. */
  const enter = (event: React.KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (event.key !== "Enter" || event.nativeEvent.isComposing || target.dataset.typing === "yes") return;
    if (target.matches("button:not([role=radio]), select")) return;
    event.preventDefault();
    event.stopPropagation();
    if (!event.repeat) take();
  };

  return (
    <Flex direction="column" gap="2" onKeyDownCapture={enter}>
      <Text fontWeight={700}>{way === "in" ? "Bring in: it has landed here" : "Take out: it leaves from here"}</Text>
      <Choice
        label={way === "in" ? "From which side" : "To which side"}
        value={side}
        options={[
          ["none", "–"],
          ["left", "left"],
          ["right", "right"],
          ["top", "top"],
          ["bottom", "bottom"],
        ]}
        onChange={setSide}
      />
      <Flex align="center" gap="2">
        <Text flex="1">{way === "in" ? "From scale 0 at" : "To scale 0 at"}</Text>
        <Box width="140px" display="flex">
          <Select
            label="Scale 0 at"
            value={station}
            options={[["", "–"], ...Object.keys(STATIONS).map((name): [string, string] => [name, name])]}
            onChange={setStation}
          />
        </Box>
      </Flex>
      <Flex align="center" gap="2">
        <Text flex="1">{way === "in" ? "From turned by" : "To turned by"}</Text>
        <NumberField label="Turned by" unit="°" width="78px" read={() => angle} keep={setAngle} attempt={setAngle} />
      </Flex>
      <Switch text={way === "in" ? "From transparent" : "To transparent"} on={transparent} set={setTransparent} />
      <Flex align="center" gap="2">
        <Text flex="1">Length of the move</Text>
        <TimeField label="Length of the move" frame={length} least={1} show={(n) => `${n} f`} keep={setLength} />
      </Flex>
      <Pill look="act" disabled={!chosen} onClick={take}>
        {way === "in" ? "Bring in" : "Take out"}
      </Pill>
    </Flex>
  );
}
