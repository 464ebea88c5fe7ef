import type { Layer } from "../api/client";
import type { LooseKey } from "./tools";

/** What was copied last, in this or in another window: layers, or keys. */
export type Copied =
  | { kind: "layers"; project: string; name: string; rate: [number, number]; layers: Layer[] }
  | { kind: "keys"; keys: LooseKey[]; from: string[] };

const KEY = "mudskipper.copied";

/** Keep what was copied for all windows of this browser. */
export function putCopied(copied: Copied) {
  try {
    localStorage.setItem(KEY, JSON.stringify(copied));
    // What lies on the system's clipboard from before is not what is pasted next.
    void navigator.clipboard?.writeText(`Copied in Mudskipper: ${copied.kind}`).catch(() => undefined);
  } catch {
    throw new Error("This is too much to be copied at once.");
  }
}

/** What was copied last; null where nothing was, or it cannot be read. */
export function lastCopied(): Copied | null {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? "null") as Copied | null;
    return found && (found.kind === "layers" || found.kind === "keys") ? found : null;
  } catch {
    return null;
  }
}
