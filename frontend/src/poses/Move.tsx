import type { Ease, KeyRef } from "../api/client";
import { easeOf, tracksOf } from "../document/tracks";
import { EaseCurve } from "../easing/EaseCurve";
import { EasePopover } from "../easing/EasePopover";
import { useEase } from "../easing/easeNames";
import { TimeField } from "../fields/TimeField";
import { timecode } from "../geometry/times";
import { chakra, Flex, Text } from "../parts/styled";
import { type Session, useSession } from "../session/session";
import { useScene } from "../session/useScene";
import type { Pose } from "./poses";

/** Pixels that a move takes between two cards. */
export const MOVE = 76;

/** Whether a property has a further key, so that an easing rules the way to it. */
function goesOn(session: Session, ref: KeyRef): boolean {
  const layer = session.layer(ref.layer);
  const keys = layer ? tracksOf(layer)[ref.property]?.keys : undefined;
  return keys?.some((key) => key.frame + layer!.span.start > ref.frame + 1e-6) ?? false;
}

/** From one pose to the next: its length in frames, and its easing as a curve that opens the editor. */
export function Move({ from, to, setLength }: { from: Pose; to: Pose; setLength: (length: number) => void }) {
  const session = useSession();
  const { scene } = useScene();
  const keys = from.keys.filter((key) => goesOn(session, key));
  const eases = keys.map((key) => easeOf(session, key));
  const same = eases.every((ease) => JSON.stringify(ease) === JSON.stringify(eases[0]));
  const ease: Ease = eases[0] ?? "linear";
  const facts = useEase(ease);
  const length = Math.round((to.frame - from.frame) * 1000) / 1000;
  const when = `the move from ${timecode(from.frame, scene)} to ${timecode(to.frame, scene)}`;
  return (
    <Flex
      direction="column"
      align="center"
      width={`${MOVE}px`}
      flex="none"
      gap="0.5"
      data-testid="move"
      data-frame={from.frame}
    >
      <EasePopover keys={keys} ease={ease}>
        <chakra.button
          type="button"
          aria-label={`Easing of ${when}`}
          title={!keys.length ? "Nothing goes on from here" : same ? facts?.name : "Different easings"}
          disabled={!keys.length}
          cursor="pointer"
          borderRadius="8px"
          _hover={{ bg: "actWash" }}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        >
          <EaseCurve curve={facts?.curve} width={62} height={40} tone={same ? "scale" : "quiet"} plain />
        </chakra.button>
      </EasePopover>
      <TimeField
        label={`Length of ${when}`}
        frame={length}
        least={1}
        width="58px"
        show={(frames) => `${frames} f`}
        keep={setLength}
      />
      <Text fontSize="caption" color="quiet" truncate maxWidth="100%">
        {!keys.length ? "at rest" : same ? facts?.name : "several"}
      </Text>
    </Flex>
  );
}
