import { chakra, Flex } from "@chakra-ui/react";
import { ChevronLeft, ChevronRight, CircleSlash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Layer, Track } from "../api/client";
import { keyFrames } from "../scene/document";
import { useSession } from "../scene/session";
import { keyState } from "./keying";

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
    return session.frames.subscribe(paint);
  });

  const press = () => {
    const { frame } = session.frames;
    const state = keyState(layer, track, frame);
    if (state === "here")
      void session.edit({ edit: "delete_keys", keys: [{ layer: layer.id!, property: name, frame }] });
    else void session.edit({ edit: "start_keying", layer: layer.id!, property: name, frame });
  };

  return (
    <chakra.button
      ref={button}
      type="button"
      data-testid={`pebble-${name}`}
      width="10px"
      height="16px"
      flex="none"
      borderRadius="5px"
      borderWidth="2px"
      borderColor={tone}
      opacity={0.55}
      cursor="pointer"
      css={{
        "&[data-state=here]": { background: `{colors.${tone}}`, opacity: 1 },
        "&[data-state=between]": { opacity: 1, borderStyle: "dashed" },
      }}
      _hover={{ opacity: 1 }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "2px" }}
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
    const frames = keyFrames(layer, track).filter((frame) => (way > 0 ? frame > here : frame < here));
    if (frames.length) session.frames.seek(way > 0 ? Math.min(...frames) : Math.max(...frames));
  };
  const stop = () =>
    void session.edit({ edit: "stop_keying", layer: layer.id!, property: name, frame: session.frames.frame });
  return (
    <Flex align="center" color="quiet" visibility={keyed ? "visible" : "hidden"}>
      <Small label={`Previous key of ${label}`} onClick={() => go(-1)}>
        <ChevronLeft size={13} />
      </Small>
      <Small label={`Next key of ${label}`} onClick={() => go(1)}>
        <ChevronRight size={13} />
      </Small>
      <Small label={`Stop keying ${label}`} onClick={stop}>
        <CircleSlash2 size={11} />
      </Small>
    </Flex>
  );
}

function Small({ label, onClick, children }: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <chakra.button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      width="15px"
      height="22px"
      display="grid"
      placeItems="center"
      cursor="pointer"
      borderRadius="4px"
      _hover={{ color: "act" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
    >
      {children}
    </chakra.button>
  );
}
