import { useEffect, useRef, useState } from "react";
import type { Edit } from "../api/client";
import { toStage } from "../parts/focus";
import { useSession } from "../session/session";
import { habits } from "../state/habits";
import { sayProblem } from "../state/page";
import {
  type Column,
  cellOf,
  copied,
  isWhole,
  pastedCells,
  pastedRows,
  type Range,
  type Row,
  type TimeAs,
  type TypedCell,
} from "./keyTable";

interface At {
  row: number;
  column: number;
}

interface Table {
  layer: string;
  rows: Row[];
  columns: Column[];
  as: TimeAs;
  textOf: (row: number, column: Column) => string;
  /** Have a row at a frame that has no key yet, in place of one where there was none either. */
  openRow: (frame: number, was?: number) => void;
  /** Bring a row into view. */
  show: (row: number) => void;
}

/** A cell that was sent off, shown as it was typed until the answer is here. */
interface Sent {
  frame: number;
  column: string;
  text: string;
}

const keyOf = ({ what, property, part }: Column) => `${what} ${property} ${part}`;
const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-10, 0],
  PageDown: [10, 0],
};

/** Cells as a spreadsheet has them: walked and chosen by keys and mouse, typed into, copied, pasted, filled down. */
export function useCells(table: Table) {
  const session = useSession();
  const { layer, rows, columns } = table;
  const latest = useRef(table);
  latest.current = table;
  const first = { row: 0, column: rows.length ? 1 : 0 };
  const [at, setAt] = useState<At>(first);
  const [from, setFrom] = useState<At>(at);
  const [editing, setEditing] = useState<{ text: string; wrong: boolean } | null>(null);
  const [sent, setSent] = useState<Sent[]>([]);
  const grid = useRef<HTMLElement | null>(null);
  const typing = useRef(editing);
  typing.current = editing;
  const draw = useRef(false);

  const clamp = (place: At): At => ({
    row: Math.min(Math.max(place.row, 0), rows.length),
    column: Math.min(Math.max(place.column, 0), columns.length - 1),
  });
  const active = clamp(at);
  const other = clamp(from);
  const range: Range = {
    rows: [Math.min(active.row, other.row), Math.max(active.row, other.row)],
    columns: [Math.min(active.column, other.column), Math.max(active.column, other.column)],
  };

  // biome-ignore lint/correctness/useExhaustiveDependencies: another layer begins at its first value
  useEffect(() => {
    setAt(first);
    setFrom(first);
    setEditing(null);
  }, [layer]);

  const go = (place: At, extend = false) => {
    const next = clamp(place);
    setAt(next);
    if (!extend) setFrom(next);
    table.show(next.row);
  };
  const edit = (cells: TypedCell[]) =>
    ({ edit: "type_keys", layer, cells, ripple: habits().ripple }) as unknown as Edit;
  const keep = (cells: TypedCell[]) => (cells.length ? session.edit(edit(cells)) : Promise.resolve(true));

  /** The cells that a text which is typed goes to: all that are chosen, or the active one. */
  const targets = (text: string): TypedCell[] =>
    rows
      .slice(range.rows[0], range.rows[1] + 1)
      .flatMap((row) =>
        columns.slice(range.columns[0], range.columns[1] + 1).map((column) => cellOf(row, column, table.as, text)),
      );

  const begin = (text: string) => setEditing({ text, wrong: false });
  const leave = () => {
    setEditing(null);
    grid.current?.focus({ preventScroll: true });
  };
  const drop = () => {
    typing.current = null;
    session.cancel();
    leave();
  };

  /** Take what was typed; the cell shows it until the answer is here. Refused, it is in the hand again. */
  const take = (to: At | null) => {
    const { text } = typing.current!;
    // Once: the field loses the keyboard as it goes.
    typing.current = null;
    const place = active;
    const column = columns[place.column];
    const row = rows[place.row];
    const several = range.rows[0] !== range.rows[1] || range.columns[0] !== range.columns[1];
    setEditing(null);
    if (to) grid.current?.focus({ preventScroll: true });
    if (!row || (row.open && column.what === "time")) {
      if (text.trim() && column.what === "time") void openAt(text, place, row?.frame);
      else if (text.trim()) sayProblem(new Error("A new row begins with its time. Type that first."));
      session.cancel();
      return;
    }
    if (to) go(to);
    if (!several && text === table.textOf(place.row, column)) return session.cancel();
    const cells = several ? targets(text) : [cellOf(row, column, table.as, text)];
    const mark: Sent = { frame: row.frame, column: keyOf(column), text };
    if (!several) setSent((was) => [...was, mark]);
    void keep(cells).then((kept) => {
      setSent((was) => was.filter((one) => one !== mark));
      if (kept || typing.current) return;
      const now = latest.current.rows.findIndex((one) => Math.abs(one.frame - row.frame) < 1e-6);
      const back = { row: Math.max(now, 0), column: place.column };
      if (document.activeElement !== grid.current) return;
      setAt(back);
      if (!several) setFrom(back);
      setEditing({ text, wrong: true });
    });
  };

  const openAt = async (text: string, place: At, was?: number) => {
    try {
      const frame = await session.readTime(text, was ?? session.frames.frame);
      const { layer: now } = latest.current;
      const span = session.layer(now)?.span;
      if (span && (frame < span.start || frame >= span.start + span.length))
        throw new Error(`The layer is there from frame ${span.start} to ${span.start + span.length - 1}.`);
      latest.current.openRow(frame, was);
      const after = latest.current.rows.filter((one) => one.frame < frame - 1e-6).length;
      go({ row: after, column: 1 });
    } catch (error) {
      sayProblem(error as Error);
      if (document.activeElement !== grid.current) return;
      setAt(place);
      setFrom(place);
      setEditing({ text, wrong: true });
    }
  };

  const clear = () => {
    const cells = targets("").filter(({ column, frame, property }) => {
      const row = rows.find((one) => one.frame === frame);
      return column === "value" && row?.keys.has(property ?? "");
    });
    void keep(cells);
  };
  const copyRange = () =>
    copied(
      rows
        .slice(range.rows[0], range.rows[1] + 1)
        .map((_, i) =>
          columns
            .slice(range.columns[0], range.columns[1] + 1)
            .map((column) => table.textOf(range.rows[0] + i, column)),
        ),
    );
  const fillDown = () => {
    const [top, bottom] = range.rows;
    const first = top === bottom ? top - 1 : top;
    if (first < 0) return;
    const filled = rows.slice(first + 1, bottom + 1).flatMap((row) =>
      columns.slice(range.columns[0], range.columns[1] + 1).flatMap((column) => {
        const text = table.textOf(first, column);
        return column.what === "time" || !text ? [] : [cellOf(row, column, table.as, text)];
      }),
    );
    void keep(filled);
  };
  const paste = (text: string) => {
    const block = pastedRows(text);
    const cells = pastedCells(block, range, rows, columns, table.as);
    if (typeof cells === "string") return sayProblem(new Error(`${cells} Nothing was changed.`));
    void keep(cells).then((kept) => {
      if (!kept) return;
      const to = { row: range.rows[0] + block.length - 1, column: range.columns[0] + block[0].length - 1 };
      if (block.length > 1 || block[0].length > 1) {
        setFrom({ row: range.rows[0], column: range.columns[0] });
        setAt(to);
      }
    });
  };

  /** The next cell to the right or the left, over the ends of rows; null beyond the table. */
  const beside = (by: 1 | -1): At | null => {
    const place = active.row * columns.length + active.column + by;
    if (place < 0 || place >= (rows.length + 1) * columns.length) return null;
    return { row: Math.floor(place / columns.length), column: place % columns.length };
  };

  const onKeyDown = (event: React.KeyboardEvent<HTMLElement>) => {
    grid.current = event.currentTarget;
    if (event.target !== event.currentTarget) return;
    const { key, shiftKey, altKey } = event;
    const ctrl = event.ctrlKey || event.metaKey;
    const held = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    const step = STEPS[key];
    if (step && !altKey) {
      held();
      const [down, right] = ctrl ? step.map((n) => n * 1e6) : step;
      go({ row: active.row + down, column: active.column + right }, shiftKey);
    } else if (key === "Home" || key === "End") {
      held();
      const column = key === "Home" ? 0 : columns.length - 1;
      go({ row: ctrl ? (key === "Home" ? 0 : rows.length - 1) : active.row, column }, shiftKey);
    } else if (key === "Tab") {
      const next = beside(shiftKey ? -1 : 1);
      if (!next) return;
      held();
      go(next);
    } else if (key === "Enter") {
      held();
      if (!event.repeat) go({ row: active.row + (shiftKey ? -1 : 1), column: active.column });
    } else if (key === "F2") {
      held();
      begin(table.textOf(active.row, columns[active.column]));
    } else if (key === "Delete" || key === "Backspace") {
      held();
      clear();
    } else if (key === "Escape") {
      held();
      toStage(null);
    } else if (ctrl && key.toLowerCase() === "d") {
      held();
      fillDown();
    } else if (ctrl && key.toLowerCase() === "a") {
      held();
      setFrom({ row: 0, column: 0 });
      setAt({ row: Math.max(rows.length - 1, 0), column: columns.length - 1 });
    } else if (ctrl && /^[cvx]$/i.test(key)) event.stopPropagation();
    else if (key.length === 1 && key !== " " && !ctrl && !altKey && !event.nativeEvent.isComposing) {
      held();
      begin(key);
    }
  };

  const place = (target: EventTarget): At | null => {
    const cell = target instanceof Element ? target.closest<HTMLElement>("[data-cell]") : null;
    if (!cell) return null;
    const [row, column] = cell.dataset.cell!.split(" ").map(Number);
    return { row, column };
  };

  return {
    active,
    range,
    editing,
    /** What was sent off for a cell and is not answered yet. */
    sentTo: (row: number, column: number): string | undefined =>
      sent.findLast((one) => one.frame === rows[row]?.frame && one.column === keyOf(columns[column]))?.text,
    grid: {
      onKeyDown,
      onFocus: (event: React.FocusEvent<HTMLElement>) => {
        if (event.target === event.currentTarget) grid.current = event.currentTarget;
      },
      onPointerDown: (event: React.PointerEvent<HTMLElement>) => {
        const cell = place(event.target);
        if (!cell || event.button !== 0 || event.target instanceof HTMLInputElement) return;
        grid.current = event.currentTarget;
        // What is being typed is taken by the click elsewhere.
        if (typing.current) take(cell);
        draw.current = true;
        go(cell, event.shiftKey);
        event.currentTarget.focus({ preventScroll: true });
        event.preventDefault();
      },
      onPointerMove: (event: React.PointerEvent<HTMLElement>) => {
        if (!draw.current || !event.buttons) {
          draw.current = false;
          return;
        }
        const cell = place(event.target);
        if (cell) setAt(cell);
      },
      onDoubleClick: (event: React.MouseEvent<HTMLElement>) => {
        if (place(event.target) && !(event.target instanceof HTMLInputElement))
          begin(table.textOf(active.row, columns[active.column]));
      },
      onCopy: (event: React.ClipboardEvent<HTMLElement>) => {
        if (event.target instanceof HTMLInputElement) return;
        event.preventDefault();
        event.stopPropagation();
        event.clipboardData.setData("text/plain", copyRange());
      },
      onCut: (event: React.ClipboardEvent<HTMLElement>) => {
        if (event.target instanceof HTMLInputElement) return;
        event.preventDefault();
        event.stopPropagation();
        event.clipboardData.setData("text/plain", copyRange());
        clear();
      },
      onPaste: (event: React.ClipboardEvent<HTMLElement>) => {
        if (event.target instanceof HTMLInputElement) return;
        event.preventDefault();
        event.stopPropagation();
        paste(event.clipboardData.getData("text/plain"));
      },
    },
    field: {
      ref: (field: HTMLInputElement | null) => {
        if (field && document.activeElement !== field) field.focus({ preventScroll: true });
      },
      value: editing?.text ?? "",
      "aria-invalid": editing?.wrong || undefined,
      "data-typing": "yes",
      spellCheck: false,
      autoComplete: "off",
      onChange: (event: React.ChangeEvent<HTMLInputElement>) => {
        const text = event.target.value;
        setEditing({ text, wrong: false });
        const column = columns[active.column];
        if (rows[active.row] && isWhole(column, text)) session.try([edit(targets(text))]);
        else session.cancel();
      },
      onKeyDown: (event: React.KeyboardEvent<HTMLInputElement>) => {
        event.stopPropagation();
        if (event.nativeEvent.isComposing) return;
        if (event.key === "Escape") {
          event.preventDefault();
          drop();
        } else if (event.key === "Enter") {
          event.preventDefault();
          if (!event.repeat) take({ row: active.row + (event.shiftKey ? -1 : 1), column: active.column });
        } else if (event.key === "Tab") {
          const next = beside(event.shiftKey ? -1 : 1);
          if (!next) return;
          event.preventDefault();
          take(next);
        } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          take({ row: active.row + (event.key === "ArrowUp" ? -1 : 1), column: active.column });
        }
      },
      onBlur: () => {
        if (typing.current) take(null);
      },
    },
  };
}
