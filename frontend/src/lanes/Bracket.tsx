import { useState } from "react";
import type { Edit } from "../api/client";
import { moveKeys, spanOf, stretchKeys } from "../keys/keys";
import { snapsOf } from "../keys/snaps";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { useSelection } from "../state/selection";
import { useFrameDrag } from "./frameDrag";
import { NAMES, toX, useScale } from "./scale";

/** A bracket around the selected keys, under the ruler: its middle moves them, its ends stretch them. */
export function Bracket() {
  const session = useSession();
  const keys = useSelection((state) => state.keys);
  const scale = useScale();
  const begin = useFrameDrag();
  const [preview, setPreview] = useState<[number, number] | null>(null);
  if (keys.length < 2) return null;
  const [first, last] = spanOf(keys);
  if (first === last) return null;
  const [from, to] = preview ?? [first, last];

  const stretch = (end: "first" | "last") => {
    const about = end === "first" ? last : first;
    const spanAfter = (by: number): [number, number] =>
      end === "first" ? [Math.min(first + by, last - 1), last] : [first, Math.max(last + by, first + 1)];
    // The ends of a bracket never meet: its keys would all stand at one frame.
    const least = 1 / (last - first);
    const factor = (by: number) => Math.max((spanAfter(by)[1] - spanAfter(by)[0]) / (last - first), least);
    const edit = (by: number): Edit => ({
      edit: "retime_keys",
      keys,
      way: "stretch",
      about,
      factor: factor(by),
      whole: true,
    });
    return {
      move: (by: number) => {
        setPreview(spanAfter(by));
        session.try([edit(by)]);
      },
      end: (by: number) => void stretchKeys(session, keys, about, factor(by)).finally(() => setPreview(null)),
      cancel: () => {
        setPreview(null);
        session.cancel();
      },
    };
  };
  const moved = {
    move: (by: number) => {
      setPreview([first + by, last + by]);
      session.try([{ edit: "move_keys", keys, by }]);
    },
    end: (by: number) => void moveKeys(session, keys, by).finally(() => setPreview(null)),
    cancel: () => {
      setPreview(null);
      session.cancel();
    },
  };
  const snaps = () => snapsOf(session, new Set(keys.map((key) => `${key.layer}.${key.property}.${key.frame}`)));
  const left = NAMES + toX(scale, from + 0.5);
  const right = NAMES + toX(scale, to + 0.5);
  const grip = {
    position: "absolute",
    top: "-3px",
    width: "9px",
    height: "13px",
    borderWidth: "2px",
    borderColor: "act",
    cursor: "ew-resize",
    bg: "paper",
  } as const;
  return (
    <Box
      data-testid="bracket"
      data-first={from}
      data-last={to}
      position="absolute"
      top="18px"
      style={{ left, width: right - left }}
      height="7px"
      bg="act"
      opacity={0.9}
      borderRadius="4px"
      cursor="grab"
      title={`${keys.length} keys: drag to move them, the ends to stretch them`}
      onPointerDown={(event) => begin(event, moved, [first, last], snaps())}
    >
      <Box
        {...grip}
        left="-5px"
        borderRadius="4px 0 0 4px"
        data-testid="bracket-first"
        onPointerDown={(event) => begin(event, stretch("first"), [first], snaps())}
      />
      <Box
        {...grip}
        right="-5px"
        borderRadius="0 4px 4px 0"
        data-testid="bracket-last"
        onPointerDown={(event) => begin(event, stretch("last"), [last], snaps())}
      />
    </Box>
  );
}
