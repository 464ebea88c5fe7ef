import { ChevronLeft, ChevronRight, CircleSlash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Layer, Track } from "../api/client";
import { keyFrames } from "../document/tracks";
import { IconButton } from "../parts/IconButton";
import { useSession } from "../session/session";
import { roleColour } from "../theme/theme";
import { keyState } from "./keyState";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  track: Track;
  tone: string;
}

const WORDS = {
  still: (label: string) => `${label} is not keyed. Start keying here`,
  here: (label: string) => `${label} has a key here. Delete it`,
  between: (label: string) => `${label} is keyed, and any change makes a key here. Make one now`,
};

/** The pebble of a property row: its look tells which of three states keying is in. */
export function Pebble({ layer, name, label, track, tone }: Props) {
  const session = useSession();
  const button = useRef<HTMLButtonElement>(null);

  useEffect(() => {
    const paint = () => {
      const state = keyState(layer, track, session.frames.frame);
      if (button.current!.dataset.state === state) return;
      button.current!.dataset.state = state;
      button.current!.ariaLabel = button.current!.title = WORDS[state](label);
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  });

  const press = () => {
    const { frame } = session.frames;
    const state = keyState(layer, track, frame);
    if (state === "here")
      void session.edit({ edit: "delete_keys", keys: [{ layer: layer.id!, property: name, frame }] });
    else void session.edit({ edit: "start_keying", layer: layer.id!, property: name, frame });
  };

  return (
    <button
      ref={button}
      type="button"
      className="state"
      data-testid={`pebble-${name}`}
      style={{ "--tone": roleColour(tone) } as React.CSSProperties}
      onClick={press}
    />
  );
}

/** Previous key, next key, and an end to keying. */
export function KeySteps({ layer, name, label, track }: Omit<Props, "tone">) {
  const session = useSession();
  const keyed = (track.keys?.length ?? 0) > 0;
  const go = (way: 1 | -1) => {
    const here = session.frames.frame;
    // The playhead stands on whole frames, and a key may stand between two.
    const frames = keyFrames(layer, track)
      .map(Math.round)
      .filter((frame) => (way > 0 ? frame > here : frame < here));
    if (frames.length) session.frames.seek(way > 0 ? Math.min(...frames) : Math.max(...frames));
  };
  const stop = () =>
    void session.edit({ edit: "stop_keying", layer: layer.id!, property: name, frame: session.frames.frame });
  return (
    <div className="steps" style={{ visibility: keyed ? "visible" : "hidden" }}>
      <IconButton label={`Previous key of ${label}`} onClick={() => go(-1)}>
        <ChevronLeft size={13} />
      </IconButton>
      <IconButton label={`Next key of ${label}`} onClick={() => go(1)}>
        <ChevronRight size={13} />
      </IconButton>
      <IconButton label={`Stop keying ${label}`} onClick={stop}>
        <CircleSlash2 size={11} />
      </IconButton>
    </div>
  );
}
