import { create } from "zustand";
import { STATIONS } from "../stage/view";

/** What is drawn over and around the picture; remembered on this machine for each scene. */
export interface Look {
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
}

const FIRST: Look = {
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
};

export const useLook = create<Look>(() => FIRST);
export const look = useLook.getState;

let place = "";

const isLine = (value: unknown) => Array.isArray(value) && value.every((at) => Number.isFinite(at));

/** Whether a stored choice is one: what cannot be read is as it was at first. */
function fits(name: string, value: unknown): boolean {
  if (name === "surround") return ["light", "mid", "dark"].includes(value as string);
  if (name === "follow") return value === "anchor" || (typeof value === "string" && value in STATIONS);
  if (name === "guides") {
    const guides = value as Partial<Look["guides"]> | null;
    return isLine(guides?.x) && isLine(guides?.y);
  }
  return name in FIRST && typeof value === typeof FIRST[name as keyof Look];
}

/** Bring back what was chosen for a scene. */
export function openLook(sceneId: string) {
  place = `mudskipper.look.${sceneId}`;
  let kept: Record<string, unknown> = {};
  try {
    kept = JSON.parse(localStorage.getItem(place) ?? "{}") ?? {};
  } catch {
    localStorage.removeItem(place);
  }
  const known = Object.entries(kept).filter(([name, value]) => fits(name, value));
  useLook.setState({ ...FIRST, ...Object.fromEntries(known) }, true);
}

export function setLook(change: Partial<Look>) {
  useLook.setState(change);
  localStorage.setItem(place, JSON.stringify(look()));
}
