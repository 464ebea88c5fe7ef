import type { Edit } from "../api/client";
import { ColourField } from "../fields/ColourField";
import { NumberField } from "../fields/NumberField";
import { TimeField } from "../fields/TimeField";
import { RATES } from "../geometry/times";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { DraftInput } from "../parts/TextInput";
import { Toggle } from "../parts/Toggle";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { type Carry, setHabits, useHabits } from "../state/habits";

/** The scene's own settings, shown while no layer is selected. */
export function SceneBlock() {
  const session = useSession();
  const { scene } = useScene();
  const set = (change: Partial<Extract<Edit, { edit?: "set_scene" }>>) =>
    session.edit({ edit: "set_scene", ...change } as Edit);
  const carry = useHabits((state) => state.carry);
  const rate = (scene.frame_rate ?? [30, 1]).join("/");
  const rates = RATES.some(([value]) => value === rate) ? RATES : [...RATES, [rate, rate] as [string, string]];
  const parts = [1, 3, 5, 7].map((i) => Number.parseInt(scene.background!.slice(i, i + 2), 16));
  return (
    <Box role="group" aria-label="Scene">
      <Text fontWeight={700} fontSize="name" mb="2">
        Scene
      </Text>
      <Line label="Name">
        <DraftInput label="Scene name" text={scene.name} flex="1" minWidth="0" take={(name) => set({ name })} />
      </Line>
      <Line label="Size">
        <NumberField
          label="Scene width"
          unit="w"
          width="57px"
          read={() => scene.width}
          keep={(width) => set({ width, carry })}
        />
        <NumberField
          label="Scene height"
          unit="h"
          width="57px"
          read={() => scene.height}
          keep={(height) => set({ height, carry })}
        />
      </Line>
      <Line label="Layers">
        <Select
          label="How layers go along with the size"
          value={carry}
          options={[
            ["place", "keep their place"],
            ["fraction", "keep their fraction"],
            ["fit", "are scaled to fit"],
          ]}
          onChange={(value) => setHabits({ carry: value as Carry })}
        />
      </Line>
      <Line label="Rate">
        <Select
          label="Frames a second"
          value={rate}
          options={rates}
          onChange={(value) => void set({ frame_rate: value.split("/").map(Number) as [number, number] })}
        />
      </Line>
      <Line label="Length">
        <TimeField
          label="Scene length"
          frame={scene.length}
          least={1}
          width="57px"
          keep={(length) => void set({ length })}
        />
        <Text color="quiet">{scene.length} frames</Text>
      </Line>
      <Line label="Ground">
        <ColourField
          label="Background"
          numbers={() => parts}
          set={(background, keep) => void (keep && set({ background }))}
        />
      </Line>
      <MotionBlurLines />
      <Text color="quiet" mt="4">
        Click a layer on the stage or in the lanes to place its anchor and key its motion. Add shapes, texts and
        pictures from the shelf on the left.
      </Text>
    </Box>
  );
}

/** Whether what moves is blurred, and how long the shutter is open. */
function MotionBlurLines() {
  const session = useSession();
  const { scene } = useScene();
  const blur = scene.motion_blur;
  const number = (name: "shutter" | "phase" | "samples", label: string, unit: string, low: number, high: number) => (
    <NumberField
      label={label}
      unit={unit}
      width="84px"
      read={() => blur?.[name] ?? 0}
      keep={(given, run) => {
        const within = Math.min(Math.max(given, low), high);
        const value = name === "samples" ? Math.round(within) : within;
        return session.keep(run, { edit: "set_motion_blur", on: true, [name]: value });
      }}
    />
  );
  return (
    <>
      <Line label="Blur">
        <Toggle
          label="Motion blur"
          title="Motion blur: what moves is smeared as by an open shutter; seen at rest, and in the export"
          on={Boolean(blur)}
          press={() => void session.edit({ edit: "set_motion_blur", on: !blur })}
        />
      </Line>
      {blur && (
        <>
          <Line label="Shutter">
            {number("shutter", "Shutter", "°", 1, 720)}
            {number("phase", "Phase", "°", -360, 360)}
          </Line>
          <Line label="Samples">{number("samples", "Samples at most", "", 2, 64)}</Line>
        </>
      )}
    </>
  );
}

export function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="1.5" height="29px">
      <Text width="76px" flex="none" fontWeight={600} color="quiet">
        {label}
      </Text>
      {children}
    </Flex>
  );
}
