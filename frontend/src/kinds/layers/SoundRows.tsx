import { Volume2, VolumeX } from "lucide-react";
import type { Edit, Layer } from "../../api/client";
import { NumberField } from "../../fields/NumberField";
import { Pill } from "../../parts/Pill";
import { Flex, Text } from "../../parts/styled";
import { useSession } from "../../session/session";

type Sound = NonNullable<Extract<Layer["content"], { kind?: "sound" }>["sound"]>;

/** Whether a layer is muted, and its fades; its level has a row like any property. */
export function SoundRows({ layer }: { layer: Layer }) {
  const session = useSession();
  const sound = ((layer.content as { sound?: Sound }).sound ?? {}) as Partial<Sound>;
  const set = (path: string, value: unknown): Edit =>
    ({ edit: "set_content", layer: layer.id!, path: `sound.${path}`, value }) as unknown as Edit;
  const fade = (path: "fade_in" | "fade_out", label: string) => (
    <NumberField
      label={label}
      unit="s"
      width="64px"
      step={0.1}
      disabled={layer.locked}
      read={() => sound[path] ?? 0}
      keep={(value, run) => session.keep(run, set(path, value))}
    />
  );
  return (
    <Flex align="center" gap="1.5" minHeight="28px">
      <Text width="56px" flex="none" fontWeight={600} fontSize="row" color="quiet">
        Fades
      </Text>
      {fade("fade_in", "Fade in")}
      {fade("fade_out", "Fade out")}
      <Pill
        px="2"
        height="24px"
        look={sound.muted ? "on" : "plain"}
        aria-pressed={Boolean(sound.muted)}
        disabled={layer.locked}
        onClick={() => void session.edit(set("muted", !sound.muted))}
      >
        {sound.muted ? <VolumeX size={13} /> : <Volume2 size={13} />} Mute
      </Pill>
    </Flex>
  );
}
