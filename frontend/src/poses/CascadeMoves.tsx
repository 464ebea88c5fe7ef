import type { Layer } from "../api/client";
import { cascadesOf } from "../document/contents";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { useCascadeFacts } from "../session/cascades";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { showCascade, useCascade } from "../state/cascades";

/** The cascades of a layer among its moves: when each begins, and how long it takes; a press goes there. */
export function CascadeMoves({ layer, alone }: { layer: Layer; alone: boolean }) {
  const session = useSession();
  const { scene } = useScene();
  const facts = useCascadeFacts(layer);
  const shown = useCascade();
  return (
    <Flex
      role="group"
      aria-label={`Cascades of ${layer.name} as moves`}
      data-testid="cascade-moves"
      direction={alone ? "row" : "column"}
      flex={alone ? "1" : "none"}
      align={alone ? "center" : "stretch"}
      minWidth="0"
      maxHeight="100%"
      overflow="auto"
      gap="1"
    >
      {alone && (
        <Text color="quiet" fontSize="row" flex="none">
          No poses, but moves of its units:
        </Text>
      )}
      {cascadesOf(layer.content).map((cascade, index) => {
        const start = layer.span.start + (cascade.start ?? 0);
        const total = facts[index]?.total ?? cascade.each ?? 12;
        const name = cascade.name || `${cascade.unit ?? "letter"} ${cascade.way ?? "in"}`;
        return (
          <Pill
            key={`${index} ${name}`}
            flex="none"
            px="2"
            fontSize="caption"
            look={shown.layer === layer.id && shown.index === index ? "on" : "plain"}
            opacity={cascade.on === false ? 0.5 : 1}
            label={`Cascade ${name}: ${Math.round(total)} frames from ${timecode(start, scene)}`}
            onClick={() => {
              session.frames.seek(Math.min(Math.max(Math.round(start + total), 0), scene.length - 1));
              showCascade(layer.id!, index);
            }}
          >
            {name} {timecode(start, scene)} · {Math.round(total)} f
          </Pill>
        );
      })}
    </Flex>
  );
}
