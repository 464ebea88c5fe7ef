import { ChevronsDownUp, ChevronsUpDown } from "lucide-react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Layer, Track } from "../api/client";
import { factsOf, labelOf } from "../document/properties";
import { isPlain, keyFrames, WRITTEN } from "../document/tracks";
import { KeySteps, Pebble } from "../keys/Pebble";
import { IconButton } from "../parts/IconButton";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { setSceneView, useSceneView } from "../state/sceneView";
import { roleColour } from "../theme/theme";
import { FormulaMark } from "./FormulaMark";
import { LaneCurve } from "./LaneCurve";
import { PebbleMark } from "./PebbleMark";
import { laneHeight } from "./rows";
import { NAMES, shows, toX, useScale } from "./scale";

interface Props {
  layer: Layer;
  name: string;
  track: Track;
}

/** One property over time: its state of keying, its value now, its curve, its keys, and where a change would make one. */
export function PropertyLane({ layer, name, track }: Props) {
  const facts = useFacts();
  const scale = useScale();
  const id = layer.id!;
  const height = useSceneView((state) => laneHeight(state.tall, id, name));
  const tall = height > 60;
  const { role } = factsOf(layer, name, facts);
  const label = labelOf(layer, name, facts);
  const colour = isPlain(track.rest);
  const keyable = name !== WRITTEN;
  return (
    <div
      className="lane"
      data-testid={`lane-${name}`}
      data-reads={`${id} ${name}`}
      style={{ height, "--tone": roleColour(role) } as React.CSSProperties}
    >
      <div className="lane-head" style={{ width: NAMES }}>
        {keyable && <Pebble layer={layer} name={name} label={label} track={track} tone={role} />}
        <span className="lane-name">{label}</span>
        {track.formula && <FormulaMark layer={id} name={name} />}
        {!colour && <Now layer={id} name={name} />}
        {keyable && <KeySteps layer={layer} name={name} label={`${label} in the lanes`} track={track} />}
        <IconButton
          label={tall ? `Make the lane of ${label} lower` : `Make the lane of ${label} taller`}
          disabled={colour}
          onClick={() => setSceneView((state) => ({ tall: { ...state.tall, [`${id}.${name}`]: !tall } }))}
        >
          {tall ? <ChevronsDownUp size={12} /> : <ChevronsUpDown size={12} />}
        </IconButton>
      </div>
      <div className="lane-body" data-tall={tall ? "yes" : ""}>
        <LaneCurve layer={layer} name={name} track={track} height={height} tone={role} />
        <GhostPebble layer={layer} track={track} />
        {keyFrames(layer, track)
          .filter((frame) => shows(scale, frame, frame))
          .map((frame) => (
            <PebbleMark
              key={frame}
              frame={frame}
              tone={role}
              top={tall ? height - 11 : undefined}
              label={`Key of ${label} at frame ${frame}`}
              refs={[{ layer: id, property: name, frame }]}
            />
          ))}
      </div>
    </div>
  );
}

/** The value at the playhead. */
function Now({ layer, name }: { layer: string; name: string }) {
  const session = useSession();
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const paint = () => {
      const arrays = session.frames.layer(layer);
      const numbers = arrays && name in arrays.values ? row(arrays, arrays.values[name], session.frames.frame) : [];
      const factor = name === "anchor" ? 100 : 1;
      const words = [...numbers].map((n) => Math.round(n * factor * 10) / 10).join(" × ");
      if (text.current!.textContent !== words) text.current!.textContent = words;
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  }, [session, layer, name]);
  return <span ref={text} className="lane-now" />;
}

/** At the playhead, on a keyed property with no key there: the key that a change would make. */
function GhostPebble({ layer, track }: { layer: Layer; track: Track }) {
  const session = useSession();
  const scale = useScale();
  const mark = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const paint = () => {
      const { frame } = session.frames;
      const frames = keyFrames(layer, track);
      const inside = frame >= layer.span.start && frame < layer.span.start + layer.span.length;
      const on = frames.length > 0 && inside && !frames.some((key) => Math.abs(key - frame) < 1e-6);
      mark.current!.style.display = on ? "" : "none";
      mark.current!.style.left = `${toX(scale, frame + 0.5) - 4}px`;
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  });
  return (
    <div ref={mark} className="pebble" data-ghost="yes" data-testid="ghost-pebble" title="A change here makes a key" />
  );
}
