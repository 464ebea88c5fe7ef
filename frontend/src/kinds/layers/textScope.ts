import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import { hasWords } from "../../document/contents";
import { type Part, partOf } from "../../document/letters";
import { useSession } from "../../session/session";
import { type Letters, useSelection } from "../../state/selection";

export type TextContent = Extract<Layer["content"], { kind?: "text" }>;

/** What is set of a text: all of it, or the letters that are chosen. */
export interface Scope {
  /** The chosen letters as they are written; undefined where all are meant. */
  words?: string;
  /** The part that they are of. */
  part?: Part;
  /** The size that they have of their own at the playhead, in percent. */
  size?: number;
  /** Their tracking at the playhead. */
  tracking: number;
  /** The value of a field for what is meant. */
  now: <K extends "font" | "case" | "features" | "axes" | "fill" | "stroke">(field: K) => TextContent[K];
  /** Set a field of what is meant. */
  set: (field: string, value: unknown) => void;
  /** The edit by which a field of what is meant is set. */
  edit: (field: string, value: unknown) => Edit;
  /** Set a value of the chosen letters at the playhead: where they have one of their own its keys stay. */
  setValue: (field: "size" | "fill" | "tracking", value: number | string) => void;
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
  const parts = content.parts ?? [];
  const { start, stop } = letters && letters.layer === layer.id ? letters : { start: 0, stop: 0 };
  const open = useSelection((state) => state.editing === layer.id);
  const letter = [...content.text];
  // What is being typed may be longer than what is stored; else letters that are gone are chosen no more.
  const chosen = start < stop && (open || start < letter.length);
  const words = chosen ? letter.slice(start, stop).join("") || "…" : undefined;
  const index = words ? partOf(parts, start, stop) : undefined;
  const part = index === undefined ? undefined : parts[index];
  const valueAt = (path: string) => {
    const arrays = session.frames.layer(layer.id!);
    const column = arrays?.values[path];
    return arrays && column !== undefined ? row(arrays, column, session.frames.frame)[0] : undefined;
  };
  const edit = (field: string, value: unknown): Edit =>
    words
      ? { edit: "set_letters", layer: layer.id!, start, stop, to: { [field]: value } }
      : { edit: "set_content", layer: layer.id!, path: field, value: value as never };
  return {
    words,
    part,
    size: part?.size ? valueAt(`content.parts.${index}.size`) : undefined,
    tracking: valueAt(part?.tracking ? `content.parts.${index}.tracking` : "content.tracking") ?? 0,
    now: (field) => (part?.[field as keyof Part] as TextContent[typeof field]) ?? content[field],
    edit,
    set: (field, value) => void session.edit(edit(field, value)),
    setValue: (field, value) => {
      const own = part?.[field];
      const whole = part && part.start === start && part.stop === stop;
      if (!whole || !own || "gradient" in own) void session.edit(edit(field, { rest: value }));
      else {
        const property = `content.parts.${index}.${field}`;
        const { frame } = session.frames;
        void session.edit({ edit: "set_property", layer: layer.id!, property, frame, value, linked: false });
      }
    },
  };
}
