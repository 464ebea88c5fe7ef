import type { FrameStore } from "../document/frames";
import { FIRST_VIEW, type SceneView, sceneView, setSceneView, useSceneView } from "../state/sceneView";

/** What a scene is left with is kept for the next time it is opened, on this machine. */
type Memory = SceneView & { frame: number };

const isNumber = (value: unknown) => typeof value === "number" && Number.isFinite(value);
const isFlags = (value: unknown) =>
  typeof value === "object" && value !== null && Object.values(value).every((flag) => typeof flag === "boolean");

const FITS: Record<keyof Memory, (value: unknown) => boolean> = {
  solo: (value) => Array.isArray(value) && value.every((id) => typeof id === "string"),
  range: (value) => value === null || (Array.isArray(value) && value.length === 2 && value.every(isNumber)),
  loopOver: (value) => ["all", "span", "keys", "range"].includes(value as string),
  laneZoom: (value) => isNumber(value) && (value as number) >= 1,
  laneFrom: isNumber,
  opened: isFlags,
  tall: isFlags,
  compare: (value) =>
    value === null ||
    isNumber((value as { moment?: unknown })?.moment) ||
    (typeof (value as { layer?: unknown })?.layer === "string" &&
      typeof (value as { name?: unknown }).name === "string"),
  frame: isNumber,
};

const placeOf = (sceneId: string) => `mudskipper.scene.${sceneId}`;

/** What a scene was left with; each part that cannot be read is as in a scene never opened. */
export function remembered(sceneId: string): Memory {
  const found: Memory = { ...FIRST_VIEW, frame: 0 };
  try {
    const kept = JSON.parse(localStorage.getItem(placeOf(sceneId)) ?? "{}") as Record<string, unknown>;
    for (const [name, fits] of Object.entries(FITS))
      if (name in kept && fits(kept[name])) Object.assign(found, { [name]: kept[name] });
  } catch {
    localStorage.removeItem(placeOf(sceneId));
  }
  return found;
}

/** Take up what a scene was left with. */
export function recall({ frame: _, ...memory }: Memory) {
  setSceneView(memory);
}

/** Keep a scene's choices and playhead as they change, until what is returned is called. */
export function remember(sceneId: string, frames: FrameStore): () => void {
  let timer = 0;
  const write = () => {
    window.clearTimeout(timer);
    timer = 0;
    localStorage.setItem(placeOf(sceneId), JSON.stringify({ ...sceneView(), frame: frames.frame }));
  };
  const later = () => {
    timer ||= window.setTimeout(write, 300);
  };
  const stops = [useSceneView.subscribe(later), frames.subscribe(later)];
  window.addEventListener("pagehide", write);
  return () => {
    for (const stop of stops) stop();
    window.removeEventListener("pagehide", write);
    write();
  };
}
