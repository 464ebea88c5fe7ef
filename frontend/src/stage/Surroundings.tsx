import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, need } from "../api/client";
import type { View } from "../geometry/layerGeometry";
import { useSession } from "../session/session";
import { stepsTo, useTrail } from "../session/trail";
import { useScene } from "../session/useScene";

/** The largest width at which the scene around is painted, in pixels. */
const WIDEST = 1_600;

/** The scene that this one was gone into from, if it is shown around it. */
export function useSurroundings() {
  const session = useSession();
  const step = useTrail((state) => (state.surroundings ? stepsTo(state.steps, session.sceneId).at(-1) : undefined));
  return step;
}

/** The scene around, dimmed and without this one, lying as this scene lies in it at the playhead. */
export function Surroundings({ view }: { view: View }) {
  const step = useSurroundings();
  return step ? <Around view={view} outer={step.scene} layer={step.layer} near={step.frame} /> : null;
}

function Around({ view, outer, layer, near }: { view: View; outer: string; layer: string; near: number }) {
  const session = useSession();
  const { revision } = useScene();
  const [frame, setFrame] = useState(session.frames.frame);
  useEffect(() => session.frames.subscribeCalmly(() => setFrame(session.frames.frame)), [session]);
  const path = { scene_id: outer };
  const { data: around } = useQuery({
    queryKey: ["scene-around", outer, revision],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}", { params: { path } })),
    staleTime: 0,
    placeholderData: (before) => before,
  });
  const { data: place } = useQuery({
    queryKey: ["place", outer, layer, frame, around?.revision],
    queryFn: () =>
      need(
        api.GET("/api/scenes/{scene_id}/layers/{layer_id}/place", {
          params: { path: { ...path, layer_id: layer }, query: { inner: frame, near } },
        }),
      ),
    enabled: around !== undefined,
    retry: false,
    placeholderData: (before) => before,
  });
  if (!around || !place) return null;
  const [a, b, c, d, e, f] = place.matrix;
  const area = a * d - b * c;
  if (!area) return null;
  const { width, height } = around.scene;
  // From the pixels of the scene around to those of this one, and on to those of the stage.
  const back = [d, -b, -c, a, c * f - d * e, b * e - a * f].map((n) => n / area);
  const seen = back.map((n, i) => n * view.scale + (i === 4 ? view.x : i === 5 ? view.y : 0));
  const query = new URLSearchParams({
    frame: String(place.frame),
    without: layer,
    width: String(Math.max(Math.min(width, WIDEST), 8)),
    v: `${around.revision}`,
  });
  return (
    <img
      src={`/api/scenes/${outer}/still?${query}`}
      alt=""
      aria-hidden
      draggable={false}
      data-testid="surroundings"
      data-frame={place.frame}
      style={{
        position: "absolute",
        left: 0,
        top: 0,
        width,
        height,
        maxWidth: "none",
        opacity: 0.35,
        transformOrigin: "0 0",
        transform: `matrix(${seen.join(",")})`,
        pointerEvents: "none",
      }}
    />
  );
}
