import { useQuery } from "@tanstack/react-query";
import { api, need } from "../api/client";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import { useViewSettings } from "../state/viewSettings";
import { roleColour } from "../theme/theme";
import { type LaneScale, toX } from "./scale";

const HIGH = 9;

/** What is told of the selected layer along the ruler, where it is asked for. */
export function RulerStrip({ scale }: { scale: LaneScale }) {
  const strip = useViewSettings((state) => state.strip);
  const selected = useSelection((state) => state.selected);
  if (strip === "none" || selected.length !== 1) return null;
  return <Strip id={selected[0].split("/")[0]} speed={strip === "speed"} scale={scale} />;
}

function Strip({ id, speed, scale }: { id: string; speed: boolean; scale: LaneScale }) {
  const session = useSession();
  const { scene, revision } = useScene();
  const layer = session.layer(id);
  const { data } = useQuery({
    queryKey: ["strips", session.sceneId, id, revision],
    queryFn: () =>
      need(
        api.GET("/api/scenes/{scene_id}/layers/{layer_id}/strips", {
          params: { path: { scene_id: session.sceneId, layer_id: id } },
        }),
      ),
    placeholderData: (before, query) => (query?.queryKey[2] === id ? before : undefined),
    enabled: layer !== undefined,
  });
  if (!data || !layer) return null;
  const [first, last] = [toX(scale, 0), toX(scale, scene.length)];
  const { words, picture } = speed ? ofSpeed(data, scale) : ofCover(data.bare, scale, [first, last]);
  return (
    <Box
      data-testid="ruler-strip"
      data-words={`${layer.name} ${words}`}
      title={`${layer.name} ${words}`}
      position="absolute"
      top="0"
      left="0"
      width="100%"
      height={`${HIGH}px`}
    >
      <svg width="100%" height={HIGH} style={{ display: "block" }} role="img" aria-label={`${layer.name} ${words}`}>
        {picture}
      </svg>
    </Box>
  );
}

/** Where it covers the scene, and where it does not. */
function ofCover(bare: number[][] | null, scale: LaneScale, [left, right]: [number, number]) {
  if (!bare) return { words: "is no layer that could cover the scene", picture: null };
  const count = bare.reduce((sum, [from, to]) => sum + to - from + 1, 0);
  const words = count ? `does not cover the scene at ${count} frame${count === 1 ? "" : "s"}` : "covers wherever it is";
  return {
    words,
    picture: (
      <>
        <rect x={left} width={Math.max(right - left, 0)} y="1" height="3" fill={roleColour("actWash")} />
        {bare.map(([from, to]) => (
          <rect
            key={from}
            data-bare={`${from}-${to}`}
            x={toX(scale, from)}
            width={Math.max((to + 1 - from) * scale.frameWidth, 2)}
            y="0"
            height="5"
            fill={roleColour("findingInk")}
          />
        ))}
      </>
    ),
  };
}

/** How fast its anchor goes: the higher, the faster. */
function ofSpeed({ step, speeds }: { step: number; speeds: number[] }, scale: LaneScale) {
  const most = Math.max(...speeds, 0);
  const words = most ? `goes at up to ${Math.round(most).toLocaleString("en")} px a second` : "rests";
  const high = (value: number) => HIGH - (most ? (value / most) * (HIGH - 1) : 0);
  const points = speeds.map((value, index) => `L${toX(scale, index * step).toFixed(1)} ${high(value).toFixed(1)}`);
  const path = `M${toX(scale, 0).toFixed(1)} ${HIGH}${points.join("")}L${toX(scale, speeds.length * step).toFixed(1)} ${HIGH}Z`;
  return { words, picture: <path d={path} fill={roleColour("act")} opacity="0.55" /> };
}
