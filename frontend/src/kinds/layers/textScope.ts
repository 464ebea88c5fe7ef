import type { Layer } from "../../api/client";
import { hasWords } from "../../document/contents";
import { type Part, partOf } from "../../document/letters";
import { useSession } from "../../session/session";
import { type Letters, useSelection } from "../../state/selection";

export type TextContent = Extract<Layer["content"], { kind?: "text" }>;

/** What is set of a text: all of it, or the letters that are chosen. */
export interface Scope {
  /** The chosen letters as they are written; undefined where all are meant. */
  words?: string;
  /** The number of the part that they are of, and that part. */
  index?: number;
  part?: Part;
  /** The value of a field for what is meant. */
  now: <K extends "font" | "case" | "features" | "axes" | "fill" | "stroke">(field: K) => TextContent[K];
  /** Set a field of what is meant. */
  set: (field: string, value: unknown) => void;
  /** How the paths begin of what is meant, in the content. */
  start: string;
}

/** The number of the part that the chosen letters of a text are of; undefined where none is chosen, or no part. */
export function chosenPart(layer: Layer, letters: Letters | null): number | undefined {
  if (!letters || letters.layer !== layer.id || !hasWords(layer.content)) return undefined;
  return partOf(layer.content.parts ?? [], letters.start, letters.stop);
}

/** What the controls of a text act on. */
export function useTextScope(layer: Layer): Scope {
  const session = useSession();
  const content = layer.content as TextContent;
  const letters = useSelection((state) => state.letters);
  const chosen = letters && letters.layer === layer.id && letters.start < letters.stop ? letters : null;
  const parts = content.parts ?? [];
  const { start, stop } = chosen ?? { start: 0, stop: 0 };
  const index = chosen ? partOf(parts, start, stop) : undefined;
  const part = index === undefined ? undefined : parts[index];
  return {
    words: chosen ? [...content.text].slice(start, stop).join("") : undefined,
    index,
    part,
    now: (field) => (part?.[field as keyof Part] as TextContent[typeof field]) ?? content[field],
    set: (field, value) =>
      void session.edit(
        chosen
          ? { edit: "set_letters", layer: layer.id!, start, stop, to: { [field]: value } }
          : { edit: "set_content", layer: layer.id!, path: field, value: value as never },
      ),
    start: part ? `parts.${index}.` : "",
  };
}
