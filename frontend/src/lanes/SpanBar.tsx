import { useState } from "react";
import { useHasSound } from "../acts/clips";
import { useSource } from "../acts/useSource";
import type { Edit, Layer } from "../api/client";
import { snapsOf } from "../keys/snaps";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { setLanesView } from "../state/lanesView";
import { select, selection } from "../state/selection";
import { Fade } from "./Fade";
import { useFrameDrag } from "./frameDrag";
import { stripOf } from "./rows";
import { SpanWave } from "./SpanWave";
import { toX, useScale } from "./scale";

interface Part {
  start: number;
  length: number;
}

/** A span: drag its middle to move it with its keys, its ends to trim; with Alt its keys slip under it. */
export function SpanBar({ layer, selected }: { layer: Layer; selected: boolean }) {
  const session = useSession();
  const scale = useScale();
  const begin = useFrameDrag();
  const [preview, setPreview] = useState<Part | null>(null);
  const span = preview ?? layer.span;
  const hasSound = useHasSound(layer);
  const id = layer.id!;
  const { start, length } = layer.span;

  const drag = (change: (by: number) => Part, made: (by: number, next: Part) => Edit) => ({
    move: (by: number) => {
      setPreview(change(by));
      session.try([made(by, change(by))]);
    },
    end: (by: number) => void session.edit(made(by, change(by))).finally(() => setPreview(null)),
    cancel: () => {
      setPreview(null);
      session.cancel();
    },
  });
  const moved = drag(
    (by) => ({ start: start + by, length }),
    (_, next) => ({ edit: "move_span", layer: id, start: next.start }),
  );
  const slips = drag(
    () => ({ start, length }),
    (by) => ({ edit: "slip_span", layer: id, by }),
  );
  const slipped = stripOf(layer)
    ? {
        move: (by: number) => {
          slips.move(by);
          setLanesView({ slipping: { layer: id, by } });
        },
        end: (by: number) => {
          setLanesView({ slipping: null });
          slips.end(by);
        },
        cancel: () => {
          setLanesView({ slipping: null });
          slips.cancel();
        },
      }
    : slips;
  const trim = (_: number, next: Part): Edit => ({ edit: "trim_span", layer: id, ...next });
  const head = drag(
    (by) => ({ start: start + Math.min(by, length - 1), length: length - Math.min(by, length - 1) }),
    trim,
  );
  const tail = drag((by) => ({ start, length: Math.max(length + by, 1) }), trim);

  const press = (event: React.PointerEvent, which: "body" | "head" | "tail") => {
    if (!event.shiftKey && !selection().selected.includes(id)) select(id);
    if (layer.locked) return;
    const snaps = snapsOf(session, new Set([id]));
    if (which === "head") begin(event, head, [start], snaps);
    else if (which === "tail") begin(event, tail, [start + length], snaps);
    else if (event.altKey) begin(event, slipped);
    else begin(event, moved, [start, start + length], snaps);
  };
  const edge = { position: "absolute", top: "-1px", bottom: "-1px", cursor: "col-resize" } as const;
  const grip = { ...edge, width: "7px", borderRadius: "5px", _hover: { bg: "act" } } as const;
  /** The edge itself, over a pebble of its frame: there it trims on its whole height. */
  const rim = { ...edge, width: "7px", zIndex: 1 } as const;
  return (
    <Box
      role="group"
      data-testid="span"
      data-start={span.start}
      data-length={span.length}
      aria-label={`Span of ${layer.name}: frames ${span.start} to ${span.start + span.length - 1}`}
      title="Drag to move in time, its ends to trim, with Alt to slip its keys"
      position="absolute"
      top="5px"
      height="16px"
      style={{ left: toX(scale, span.start), width: Math.max(span.length * scale.frameWidth, 3) }}
      borderRadius="6px"
      borderWidth="1px"
      borderColor={selected ? "act" : "spanEdge"}
      bg={selected ? "act" : "span"}
      cursor="grab"
      opacity={layer.visible === false ? 0.4 : 1}
      onPointerDown={(event) => press(event, "body")}
    >
      {stripOf(layer) > 0 && <Ends layer={layer} start={span.start} />}
      {hasSound && <SpanWave layer={layer} start={span.start} length={span.length} />}
      {hasSound && (["fade_in", "fade_out"] as const).map((which) => <Fade key={which} layer={layer} which={which} />)}
      <Box {...grip} left="0" data-testid="span-start" onPointerDown={(event) => press(event, "head")} />
      <Box {...grip} right="0" data-testid="span-end" onPointerDown={(event) => press(event, "tail")} />
      <Box {...rim} left="-5px" onPointerDown={(event) => press(event, "head")} />
      <Box {...rim} right="-5px" onPointerDown={(event) => press(event, "tail")} />
    </Box>
  );
}

/** Where in a span its source begins and ends: what is shown beyond is held, nothing, or the source again. */
function Ends({ layer, start }: { layer: Layer; start: number }) {
  const { frameWidth } = useScale();
  const { ends } = useSource(layer, []);
  return ends
    .slice(0, 200)
    .map((frame) => (
      <Box
        key={frame}
        data-testid="source-end"
        data-frame={frame}
        title="The source begins or ends here"
        position="absolute"
        top="0"
        bottom="0"
        width="2px"
        bg="findingInk"
        pointerEvents="none"
        style={{ left: (frame - start) * frameWidth - 1 }}
      />
    ));
}
