import type { Session } from "../session/session";

/** Something that can be done, by a key, or found by its name. */
export interface Command {
  name: string;
  run: (session: Session, event?: KeyboardEvent) => unknown;
  /** Its keys as `react-hotkeys-hook` has them; those that are heard in another way are only shown. */
  hotkey?: string;
  /** Its keys as they are shown. */
  keys?: string;
  /** Other words by which it is found. */
  words?: string;
  /** A key that is held does it again and again. */
  repeats?: boolean;
  /** Its key works where text is typed as well, unless that takes it. */
  always?: boolean;
  /** Its key works in fields, too. */
  everywhere?: boolean;
  /** Why it cannot be done now; empty where it can. */
  not?: (session: Session) => string;
}

/** Something that is found: what it is, and what Enter does. */
export interface Entry {
  kind: string;
  name: string;
  run: () => unknown;
  keys?: string;
  words?: string;
  not?: string;
}
