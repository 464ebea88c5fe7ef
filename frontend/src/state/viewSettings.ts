import { create } from "zustand";
import { persist } from "zustand/middleware";
import { STATIONS } from "../geometry/layerGeometry";

/** What is drawn over and around the picture; remembered on this machine for each scene. */
export interface ViewSettings {
  mark: boolean;
  safe: boolean;
  thirds: boolean;
  centre: boolean;
  grid: boolean;
  rulers: boolean;
  outlines: boolean;
  path: boolean;
  ghosts: boolean;
  speed: boolean;
  /** The point of the box whose path is drawn: the anchor, or a station. */
  follow: string;
  surround: "light" | "mid" | "dark";
  guides: { x: number[]; y: number[] };
  /** The colour under the pointer, and a waveform with a histogram of the frame. */
  pointer: boolean;
  scopes: boolean;
  /** How two pictures are compared. */
  compareWay: CompareWay;
  /** What is told of the selected layer along the ruler. */
  strip: "none" | "covering" | "speed";
}

export type CompareWay = "beside" | "wipe" | "difference" | "onion";

const FIRST: ViewSettings = {
  mark: true,
  safe: false,
  thirds: false,
  centre: false,
  grid: true,
  rulers: false,
  outlines: false,
  path: true,
  ghosts: false,
  speed: false,
  follow: "anchor",
  surround: "mid",
  guides: { x: [], y: [] },
  pointer: false,
  scopes: false,
  compareWay: "beside",
  strip: "none",
};

const isLine = (value: unknown) => Array.isArray(value) && value.every((at) => Number.isFinite(at));

/** Whether a stored choice is one: what cannot be read is as it was at first. */
function fits(name: string, value: unknown): boolean {
  if (name === "surround") return ["light", "mid", "dark"].includes(value as string);
  if (name === "compareWay") return ["beside", "wipe", "difference", "onion"].includes(value as string);
  if (name === "strip") return ["none", "covering", "speed"].includes(value as string);
  if (name === "follow") return value === "anchor" || (typeof value === "string" && value in STATIONS);
  if (name === "guides") {
    const guides = value as Partial<ViewSettings["guides"]> | null;
    return isLine(guides?.x) && isLine(guides?.y);
  }
  return name in FIRST && typeof value === typeof FIRST[name as keyof ViewSettings];
}

export const useViewSettings = create<ViewSettings>()(
  persist(() => FIRST, {
    name: "mudskipper.look",
    skipHydration: true,
    merge: (kept) => {
      const known = Object.entries(kept ?? {}).filter(([name, value]) => fits(name, value));
      return { ...FIRST, ...Object.fromEntries(known) };
    },
    onRehydrateStorage: () => (_, error) => {
      if (error) useViewSettings.setState(FIRST, true);
    },
  }),
);
export const viewSettings = useViewSettings.getState;
export const setViewSettings = useViewSettings.setState;

/** Bring back what was chosen for a scene; each scene has its own. */
export function openViewSettings(sceneId: string) {
  useViewSettings.persist.setOptions({ name: `mudskipper.look.${sceneId}` });
  void useViewSettings.persist.rehydrate();
}
