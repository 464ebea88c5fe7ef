import { create } from "zustand";

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

/** Bring back what was chosen for a scene. */
export function openLook(sceneId: string) {
  place = `mudskipper.look.${sceneId}`;
  let kept: Partial<Look> = {};
  try {
    kept = JSON.parse(localStorage.getItem(place) ?? "{}");
  } catch {
    localStorage.removeItem(place);
  }
  useLook.setState({ ...FIRST, ...kept }, true);
}

export function setLook(change: Partial<Look>) {
  useLook.setState(change);
  localStorage.setItem(place, JSON.stringify(look()));
}
