import { create } from "zustand";
import { type Edit, Problem } from "../api/client";

/** An action that a message offers. */
export interface Offer {
  button: string;
  edits: Edit[];
}

/** The line that says what was done or what was wrong. */
export interface Said {
  text: string;
  kind: "said" | "problem";
  undo?: boolean;
  offer?: Offer;
  /** Something else that a press does, such as putting right what was typed. */
  press?: { button: string; run: () => void };
  /** What of the request was wrong, by its name in it. */
  where?: string;
  /** It tells of a walk through the history, which the next edit makes untrue. */
  walk?: boolean;
  /** Stops what is under way; the line stays until something else is said. */
  stop?: () => void;
  at: number;
}

export type Dialog =
  | "export"
  | "keys"
  | "explain"
  | "history"
  | "values"
  | "easing"
  | "art"
  | "numbered"
  | "nest"
  | "titles"
  | "find";
export type Drawer = "add" | "recipes" | "effects" | "media" | "slots";

/** What is open over the main view, and what is said. */
interface Page {
  drawer: Drawer | null;
  dialog: Dialog | null;
  /** The SVG files that the dialog of art asks about. */
  art: File[];
  /** The numbered pictures of which it is asked whether they are a clip. */
  numbered: File[];
  /** What the line that finds anything begins with. */
  typed: string;
  /** The recipe that the drawer opens with. */
  wanted: string | null;
  said: Said | null;
  connected: boolean;
  /** Whether the picture has the whole window. */
  full: boolean;
  /** The stage waits for the picture with what moves blurred. */
  blurring: boolean;
}

export const usePage = create<Page>(() => ({
  drawer: null,
  dialog: null,
  art: [],
  numbered: [],
  typed: "",
  wanted: null,
  said: null,
  connected: true,
  full: false,
  blurring: false,
}));
export const page = usePage.getState;

/** A second press of the key that closed a dialog comes within this time, in milliseconds. */
const SECOND_PRESS = 600;
let closed = Number.NEGATIVE_INFINITY;
let pressed = "";
const hear = ({ key }: KeyboardEvent) => {
  pressed = key;
};
window.addEventListener("keydown", hear, true);
usePage.subscribe((now, before) => {
  if (before.dialog && !now.dialog && pressed === "Enter") closed = performance.now();
});

/** Whether Enter was pressed for a dialog that the same key has just closed, and for nothing that is there now. */
export const meantForDialog = (event: KeyboardEvent) => event.timeStamp - closed < SECOND_PRESS;
export const setPage = usePage.setState;

export const say = (text: string, undo = false, offer?: Offer) =>
  setPage({ said: { text, kind: "said", undo, offer, at: Date.now() } });

/** What was done, and something else that a press does. */
export const sayWith = (text: string, press: Said["press"]) =>
  setPage({ said: { text, kind: "said", press, at: Date.now() } });

/** Where in the history the scene stands now. */
export const sayWalk = (text: string) => setPage({ said: { text, kind: "said", walk: true, at: Date.now() } });

/** What is under way, and can be stopped. */
export const sayWhile = (text: string, stop: () => void) =>
  setPage({ said: { text, kind: "said", stop, at: Date.now() } });

export const sayProblem = (error: unknown, press?: Said["press"]) =>
  setPage({
    said: {
      text: error instanceof Error ? error.message : String(error),
      kind: "problem",
      where: error instanceof Problem ? error.where : "",
      press,
      at: Date.now(),
    },
  });

/** Something succeeded: what was wrong before, and where the history stood, needs no saying any more. */
export const settled = () => {
  const { said } = page();
  if (said?.kind === "problem" || said?.walk) setPage({ said: null });
};
