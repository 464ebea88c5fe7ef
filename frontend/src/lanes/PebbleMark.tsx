import { chakra } from "@chakra-ui/react";
import type { Edit, KeyRef } from "../api/client";
import { choices, choose, useChoices } from "../scene/choices";
import { useSession } from "../scene/session";
import { useFrameDrag } from "./drag";

interface Props {
  frame: number;
  frameWidth: number;
  tone: string;
  label: string;
  refs: KeyRef[];
  small?: boolean;
}

const same = (a: KeyRef, b: KeyRef) => a.layer === b.layer && a.property === b.property && a.frame === b.frame;

/** A key as a pebble, an upright pill: click selects it, drag moves all selected keys in time. */
export function PebbleMark({ frame, frameWidth, tone, label, refs, small }: Props) {
  const session = useSession();
  const begin = useFrameDrag(frameWidth);
  const selected = useChoices((state) => refs.every((ref) => state.keys.some((key) => same(key, ref))));

  const press = (event: React.PointerEvent) => {
    const { keys } = choices();
    const others = event.shiftKey ? keys.filter((key) => !refs.some((ref) => same(ref, key))) : [];
    const chosen = selected && !event.shiftKey ? keys : [...others, ...refs];
    choose({ selected: [...new Set(chosen.map((key) => key.layer))], keys: chosen });
    const edits = (by: number): Edit[] => [{ edit: "move_keys", keys: chosen, by }];
    begin(event, {
      move: (by) => session.try(edits(by)),
      end: (by) =>
        void session.edit(...edits(by)).then((kept) => {
          if (kept) choose({ keys: chosen.map((key) => ({ ...key, frame: key.frame + by })) });
        }),
      cancel: () => session.cancel(),
    });
  };

  return (
    <chakra.button
      type="button"
      aria-label={label}
      aria-pressed={selected}
      title={label}
      data-testid={small ? "pose-pebble" : "pebble"}
      data-frame={frame}
      position="absolute"
      top={small ? "9px" : "6px"}
      left={`${10 + (frame + 0.5) * frameWidth - (small ? 3 : 4)}px`}
      width={small ? "6px" : "8px"}
      height={small ? "9px" : "13px"}
      borderRadius="full"
      bg={tone}
      cursor="grab"
      borderWidth={selected ? "2px" : "1px"}
      borderColor={selected ? "act" : "paper"}
      css={selected ? { boxShadow: "0 0 0 2px {colors.act}" } : undefined}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "1px" }}
      onPointerDown={press}
      onClick={(event) => {
        if (event.detail === 0) choose({ selected: [refs[0].layer], keys: refs });
      }}
      onDoubleClick={() => session.frames.seek(frame)}
      onKeyDown={(event) => {
        const step = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
        if (!step) return;
        event.stopPropagation();
        event.preventDefault();
        const by = step * (event.shiftKey ? 10 : 1);
        void session.edit({ edit: "move_keys", keys: refs, by }).then((kept) => {
          if (kept) choose({ keys: refs.map((key) => ({ ...key, frame: key.frame + by })) });
        });
      }}
    />
  );
}
