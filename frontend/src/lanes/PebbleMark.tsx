import { memo } from "react";
import type { KeyRef } from "../api/client";
import { moveKeys, pickKeys, sameKey, selectKeys } from "../keys/keys";
import { snapsOf } from "../keys/snaps";
import { useSession } from "../session/session";
import { setSelection, useSelection } from "../state/selection";
import { roleColour } from "../theme/theme";
import { useFrameDrag } from "./frameDrag";
import { openKeyMenu } from "./keyMenu";
import { toX, useScale } from "./scale";

interface Props {
  frame: number;
  tone: string;
  label: string;
  refs: KeyRef[];
  small?: boolean;
  top?: number;
}

/** A key as a pebble, an upright pill: click selects it, drag moves all selected keys in time. */
export const PebbleMark = memo(({ frame, tone, label, refs, small, top }: Props) => {
  const session = useSession();
  const scale = useScale();
  const begin = useFrameDrag();
  const selected = useSelection((state) => refs.every((ref) => state.keys.some((key) => sameKey(key, ref))));

  const press = (event: React.PointerEvent) => {
    if (event.button !== 0) return;
    const chosen = pickKeys(refs, event.shiftKey);
    selectKeys(chosen);
    if (!chosen.length) return;
    const moving = new Set(chosen.map((key) => `${key.layer}.${key.property}.${key.frame}`));
    begin(
      event,
      {
        move: (by) => session.try([{ edit: "move_keys", keys: chosen, by }]),
        end: (by) => void moveKeys(session, chosen, by),
        cancel: () => session.cancel(),
      },
      chosen.map((key) => key.frame),
      snapsOf(session, moving),
    );
  };

  const height = small ? 12 : 13;
  const width = small ? 7 : 8;
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={selected}
      title={label}
      data-testid={small ? "pose-pebble" : "pebble"}
      data-frame={frame}
      className="pebble"
      data-small={small ? "yes" : ""}
      style={
        {
          "--tone": roleColour(tone),
          top: (top ?? (small ? 13.5 : 13)) - height / 2,
          left: toX(scale, frame + 0.5) - width / 2,
        } as React.CSSProperties
      }
      onPointerDown={press}
      onContextMenu={(event) => {
        event.preventDefault();
        event.stopPropagation();
        if (!selected) selectKeys(refs);
        openKeyMenu(session, event.clientX, event.clientY);
      }}
      onClick={(event) => {
        if (event.detail === 0) setSelection({ selected: [refs[0].layer], keys: refs });
      }}
      onDoubleClick={() => session.frames.seek(frame)}
      onKeyDown={(event) => {
        const step = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
        if (event.key === "ContextMenu" || (event.key === "F10" && event.shiftKey)) {
          event.preventDefault();
          const box = event.currentTarget.getBoundingClientRect();
          if (!selected) selectKeys(refs);
          openKeyMenu(session, box.x, box.bottom);
        }
        if (!step) return;
        event.stopPropagation();
        event.preventDefault();
        void moveKeys(session, selected ? pickKeys(refs, false) : refs, step * (event.shiftKey ? 10 : 1));
      }}
    />
  );
});
