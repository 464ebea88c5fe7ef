import { useState } from "react";
import { api, type Edit, need } from "../api/client";
import type { components } from "../api/schema";
import { useSession } from "../session/session";
import type { SlotFacts } from "../slots/useSlots";
import type { Row } from "./useRows";

type Read = components["schemas"]["ReadTitles"];

/** Takes rows of spreadsheets and files into the table; `said` is what was left out of them, or wrong. */
export function useTakeRows(rows: Row[], slots: SlotFacts[]) {
  const session = useSession();
  const [said, setSaid] = useState("");
  const path = { scene_id: session.sceneId };
  const taken = async (asked: Promise<Read>, edits: (read: Read) => object[]) => {
    try {
      const read = await asked;
      setSaid(read.notes.join(" "));
      return await session.edit(...(edits(read) as unknown as Edit[]));
    } catch (error) {
      setSaid((error as Error).message);
      return false;
    }
  };
  const readText = (text: string) =>
    need(api.POST("/api/scenes/{scene_id}/table/read", { params: { path }, body: { text } }));
  /** What was pasted over cells from one on: each cell in its place, and rows for those that go on below. */
  const over = (read: Read, row: number, column: number): object[] => {
    if (read.heads.length) return [read.edit];
    const cellsOf = (cells: string[]) =>
      cells.flatMap((text, at) => (slots[column + at] ? [{ slot: slots[column + at].id, text }] : []));
    const known = read.rows.slice(0, Math.max(rows.length - row, 0));
    const more = read.rows.slice(known.length).map((cells) => ({ cells: cellsOf(cells) }));
    const typed = known.flatMap((cells, at) => cellsOf(cells).map((cell) => ({ row: rows[row + at].id, ...cell })));
    return [
      ...(typed.length ? [{ edit: "set_cells", cells: typed }] : []),
      ...(more.length ? [{ edit: "add_rows", rows: more }] : []),
    ];
  };
  return {
    said,
    takeText: (text: string) => taken(readText(text), (read) => [read.edit]),
    pasteAt: (text: string, row: number, column: number) =>
      void taken(readText(text), (read) => over(read, row, column)),
    takeFile: (file: File) => {
      const body = new FormData();
      body.append("file", file);
      const form = { body: body as never, bodySerializer: (given: unknown) => given as never };
      const asked = need(api.POST("/api/scenes/{scene_id}/table/take-in", { params: { path }, ...form }));
      return taken(asked as Promise<Read>, (read) => [read.edit]);
    },
  };
}
