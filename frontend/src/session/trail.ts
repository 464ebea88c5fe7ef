import { create } from "zustand";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { showsScene } from "../document/contents";
import { setPage } from "../state/page";
import { selection } from "../state/selection";
import type { Session } from "./session";

/** A scene that was gone out of into one that lies in it: where its playhead stood, and the layer that shows the other. */
export interface Step {
  scene: string;
  name: string;
  frame: number;
  layer: string;
  inner: string;
}

interface Trail {
  steps: Step[];
  /** Whether the scene around is shown, dimmed. */
  surroundings: boolean;
}

const PLACE = "mudskipper.trail";

const isStep = (value: unknown): value is Step => {
  const step = value as Partial<Step> | null;
  return (
    typeof step === "object" &&
    step !== null &&
    Number.isFinite(step.frame) &&
    [step.scene, step.name, step.layer, step.inner].every((part) => typeof part === "string")
  );
};

/** What this window keeps of the way that was gone; nothing where that cannot be read. */
function kept(): Trail {
  try {
    const { steps, surroundings } = JSON.parse(sessionStorage.getItem(PLACE) ?? "{}");
    return {
      steps: Array.isArray(steps) && steps.every(isStep) ? steps : [],
      surroundings: surroundings !== false,
    };
  } catch {
    return { steps: [], surroundings: true };
  }
}

export const useTrail = create<Trail>(kept);
useTrail.subscribe((state) => sessionStorage.setItem(PLACE, JSON.stringify(state)));

/** The steps that led to a scene; none where it was opened by itself, or the browser went back before them. */
export function stepsTo(steps: Step[], scene: string): Step[] {
  const last = steps.findLastIndex(({ inner }) => inner === scene);
  return steps.slice(0, last + 1);
}

let open = (address: string) => location.assign(address);

/** Open scenes by the page's own router. */
export const openScenesBy = (way: (address: string) => void) => {
  open = way;
};

/** Go into the scene that a layer shows, at the frame that it shows; whether it shows one. */
export function goIntoScene(session: Session, layer: Layer | undefined): boolean {
  if (!layer || !showsScene(layer.content) || !session.answer) return false;
  const { asset } = layer.content as { asset: string };
  const { frame } = session.frames;
  const arrays = session.frames.layer(layer.id!);
  const shown = arrays?.source == null ? 0 : row(arrays, arrays.source, frame)[0];
  const steps = stepsTo(useTrail.getState().steps, session.sceneId);
  const step = { scene: session.sceneId, name: session.answer.scene.name, frame, layer: layer.id!, inner: asset };
  useTrail.setState({ steps: [...steps, step] });
  setPage({ dialog: null });
  open(`/scene/${asset}?frame=${Math.max(shown, 0)}`);
  return true;
}

/** Come out to one of the scenes of the trail, with its playhead and its selection as they were. */
export function comeOut(step: Step) {
  selection().editing = null;
  const query = new URLSearchParams({ frame: String(step.frame), layer: step.layer });
  open(`/scene/${step.scene}?${query}`);
}
