import { useLayoutEffect, useRef } from "react";
import type { Point, View } from "../geometry/layerGeometry";
import { Box, chakra } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { SCOPES } from "../state/anchorScopes";
import { useSelection } from "../state/selection";
import { setTools, useTools } from "../state/tools";
import { useViewSettings } from "../state/viewSettings";
import { handleBox } from "./hitTest";
import { choicePlace, labelOf } from "./tools";

interface Props {
  view: View;
  room: Point;
  /** The choice of when the picture stays put stands beside the mark. */
  beside: boolean;
}

/** What stands in the page at the anchor: its place in words for who does not see the mark, and the choice beside it. */
export function Overlay({ view, room, beside }: Props) {
  const session = useSession();
  useScene();
  const selected = useSelection((state) => state.selected);
  const showsMark = useViewSettings((state) => state.mark);
  const spot = useRef<HTMLDivElement>(null);
  const choice = useRef<HTMLDivElement>(null);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what the label reads by itself
  useLayoutEffect(() => {
    const place = () => {
      // A hand that moves it looks at the mark; to move a part of the page along would cost more than to paint the picture.
      const label = session.frames.trying ? null : labelOf(session, view, room, beside);
      for (const part of [spot.current, choice.current]) if (part) part.style.display = label ? "" : "none";
      if (!label) return;
      const { anchor, scene, words } = label;
      const mark = spot.current!;
      mark.style.transform = `translate(${anchor[0].toFixed(2)}px, ${anchor[1].toFixed(2)}px)`;
      if (mark.ariaLabel !== words) mark.ariaLabel = words;
      mark.dataset.scene = scene.map((n) => n.toFixed(3)).join();
      if (!choice.current) return;
      const [x, y] = choicePlace(label, handleBox(session, selected, view), room);
      choice.current.style.transform = `translate(${x.toFixed(1)}px, ${y.toFixed(1)}px)`;
    };
    place();
    return session.frames.subscribe(place);
  }, [session, selected, view.scale, view.x, view.y, room, showsMark, beside]);

  return (
    <>
      <div
        ref={spot}
        role="img"
        data-testid="anchor-mark"
        style={{ position: "absolute", left: -12, top: -12, width: 24, height: 24, pointerEvents: "none" }}
      />
      {beside && (
        <div ref={choice} style={{ position: "absolute", top: 0, left: 0 }}>
          <ScopeChoice />
        </div>
      )}
    </>
  );
}

/** On a layer in motion, beside the mark: when the picture stays put. */
function ScopeChoice() {
  const scope = useTools((state) => state.scope);
  return (
    <Box
      role="radiogroup"
      aria-label="When the picture stays put"
      display="flex"
      bg="well"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="full"
      overflow="hidden"
      onPointerDown={(event) => event.stopPropagation()}
    >
      {SCOPES.map(([value, text, title]) => (
        <chakra.button
          key={value}
          type="button"
          role="radio"
          aria-checked={scope === value}
          title={title}
          px="2"
          height="19px"
          fontSize="caption"
          fontWeight={600}
          cursor="pointer"
          bg={scope === value ? "anchorInk" : undefined}
          color={scope === value ? "actInk" : "ink"}
          onClick={() => setTools({ scope: value })}
        >
          {text}
        </chakra.button>
      ))}
    </Box>
  );
}
