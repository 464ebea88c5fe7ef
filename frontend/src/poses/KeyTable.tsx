// biome-ignore-all lint/a11y/useFocusableInteractive: the grid has the keyboard, and names the cell that it is on
import { useVirtualizer } from "@tanstack/react-virtual";
import { Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { row as valuesAt } from "../api/arrays";
import type { Ease, Layer } from "../api/client";
import { labelOf } from "../document/properties";
import { useEaseFacts } from "../easing/easeNames";
import { openMenuBelow } from "../parts/FloatMenu";
import { Select } from "../parts/Select";
import { type Session, useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import {
  type Column,
  columnsOf,
  easeOfRow,
  type Row,
  rowsOf,
  type TimeAs,
  timeText,
  typedProperties,
  valueText,
} from "./keyTable";
import { useCells } from "./useCells";

const HEIGHT = 22;
const AHEAD = 6;
const NO_COLUMNS: Record<string, string[]> = {};

/** The keys of a layer as numbers: a row for each moment, a column for each property, typed as in a spreadsheet. */
export function KeyTable({ layer }: { layer: Layer }) {
  const session = useSession();
  const facts = useFacts();
  const { scene } = useScene();
  const [as, setAs] = useState<TimeAs>("code");
  const [asked, setAsked] = useState(NO_COLUMNS);
  const [open, setOpen] = useState<{ layer: string; frames: number[] }>({ layer: "", frames: [] });
  const id = layer.id!;
  const mine = asked[id];
  const typed = useMemo(() => typedProperties(layer, facts), [layer, facts]);
  const columns = useMemo(() => columnsOf(layer, facts, typed, mine ?? []), [layer, facts, typed, mine]);
  const rows = useMemo(() => rowsOf(layer, open.layer === id ? open.frames : []), [layer, open, id]);
  const eases = rows.flatMap((row) => easeOfRow(row) ?? []);
  const told = useEaseFacts(eases as Ease[]);
  const textOf = (at: number, column: Column): string => {
    const row = rows[at];
    if (!row) return "";
    if (column.what === "time") return timeText(row, rows[at - 1], as, scene);
    if (column.what === "ease") {
      const ease = easeOfRow(row);
      const known = ease && told.get(JSON.stringify(ease));
      // The name of one that is offered by it; else its numbers.
      return known ? (/\d/.test(known.name) ? known.text : known.name) : typeof ease === "string" ? ease : "";
    }
    const key = row.keys.get(column.property);
    return key ? valueText(key.value, column) : "";
  };
  const list = useRef<HTMLDivElement>(null);
  const view = useVirtualizer({
    count: rows.length + 1,
    getScrollElement: () => list.current,
    estimateSize: () => HEIGHT,
    overscan: AHEAD,
    scrollPaddingStart: HEIGHT,
  });
  const cells = useCells({
    layer: id,
    rows,
    columns,
    as,
    textOf,
    openRow: (frame, was) =>
      setOpen(({ layer, frames }) => ({
        layer: id,
        frames: [...(layer === id ? frames.filter((one) => one !== was) : []), frame],
      })),
    show: (at) => view.scrollToIndex(at),
  });
  const { active, range, editing } = cells;
  const frame = useFrameOf(session);
  const others = typed.filter((name) => !columns.some(({ property }) => property === name));
  const width = (column: Column) =>
    column.what === "time" ? 74 : column.what === "ease" ? 150 : column.colour ? 88 : 78;
  const template = `34px ${columns.map((column) => `${width(column)}px`).join(" ")} 24px`;
  const within = (r: number, c: number) =>
    r >= range.rows[0] && r <= range.rows[1] && c >= range.columns[0] && c <= range.columns[1];
  const name = (r: number, c: number) => `key-cell-${r}-${c}`;

  return (
    <div
      ref={list}
      className="key-table"
      role="grid"
      tabIndex={0}
      aria-label={`Keys of ${layer.name} as numbers`}
      aria-rowcount={rows.length + 2}
      aria-colcount={columns.length}
      aria-multiselectable
      aria-activedescendant={editing ? undefined : name(active.row, active.column)}
      data-testid="key-table"
      {...cells.grid}
    >
      <div role="row" aria-rowindex={1} className="key-heads" style={{ gridTemplateColumns: template }}>
        <span />
        {columns.map((column) => (
          <span role="columnheader" key={`${column.property} ${column.label}`} title={headOf(column)}>
            {column.what === "time" ? (
              <Select
                label="How times are shown"
                value={as}
                options={[
                  ["code", "Time"],
                  ["frames", "Frame"],
                  ["after", "After last"],
                ]}
                onChange={(next) => setAs(next as TimeAs)}
              />
            ) : (
              column.label
            )}
          </span>
        ))}
        <span role="columnheader">
          <button
            type="button"
            className="bare"
            aria-label="A column more"
            title="A column more"
            disabled={!others.length}
            onClick={(event) =>
              openMenuBelow(
                "Columns",
                others.map((one): [string, () => void] => [
                  labelOf(layer, one, facts),
                  () => setAsked((was) => ({ ...was, [id]: [...(was[id] ?? []), one] })),
                ]),
                event.currentTarget,
              )
            }
          >
            <Plus size={12} />
          </button>
        </span>
      </div>
      <div style={{ height: view.getTotalSize(), position: "relative" }}>
        {view.getVirtualItems().map(({ index, start }) => {
          const row: Row | undefined = rows[index];
          return (
            <div
              role="row"
              key={row ? `${row.frame}` : "new"}
              aria-rowindex={index + 2}
              className="key-row"
              data-now={row && Math.abs(row.frame - frame) < 0.01 ? "yes" : undefined}
              data-frame={row?.frame}
              style={{ gridTemplateColumns: template, top: start, height: HEIGHT }}
            >
              <span role="rowheader">
                <button
                  type="button"
                  tabIndex={-1}
                  className="key-number"
                  aria-label={row ? `Go to row ${index + 1}` : "A new row"}
                  onClick={() => row && session.frames.seek(row.frame)}
                >
                  {row ? index + 1 : "+"}
                </button>
              </span>
              {columns.map((column, c) => {
                const here = active.row === index && active.column === c;
                const waits = cells.sentTo(index, c);
                const shown = waits ?? textOf(index, column);
                const ghost = shown ? "" : ghostOf(session, id, row, column);
                return (
                  <span
                    role="gridcell"
                    id={name(index, c)}
                    key={`${column.property} ${column.label}`}
                    aria-colindex={c + 1}
                    aria-selected={within(index, c)}
                    aria-label={`${headOf(column)}, row ${index + 1}: ${shown || ghost || "empty"}`}
                    data-cell={`${index} ${c}`}
                    data-active={here ? "yes" : undefined}
                    data-waits={waits === undefined ? undefined : "yes"}
                    style={column.colour && shown ? { borderLeft: `10px solid ${shown}` } : undefined}
                  >
                    {here && editing ? (
                      <input {...cells.field} aria-label={`${headOf(column)}, row ${index + 1}`} />
                    ) : (
                      shown || <i>{ghost}</i>
                    )}
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

const headOf = ({ label, unit }: Column) => (unit ? `${label} (${unit})` : label);

/** What a cell without a key has at that moment, or what may be typed there. */
function ghostOf(session: Session, layer: string, row: Row | undefined, column: Column): string {
  if (!row) return column.what === "time" ? "a time" : "";
  if (column.what === "ease") return row.keys.size ? "several" : "";
  const arrays = session.frames.has(row.frame) ? session.frames.layer(layer) : undefined;
  if (!arrays || !(column.property in arrays.values) || column.colour) return "·";
  const number = valuesAt(arrays, arrays.values[column.property], row.frame)[column.part ?? 0];
  return number === undefined ? "·" : `${Math.round(number * 1000) / 1000}`;
}

/** The playhead's frame, whenever it rests. */
function useFrameOf(session: Session): number {
  const [frame, setFrame] = useState(session.frames.frame);
  useEffect(() => session.frames.subscribeCalmly(() => setFrame(session.frames.frame)), [session]);
  return frame;
}
