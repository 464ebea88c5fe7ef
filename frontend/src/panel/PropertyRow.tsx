import { Link2, Link2Off } from "lucide-react";
import { row } from "../api/arrays";
import type { Edit, Layer, PropertyFacts, Track } from "../api/client";
import { ColourField } from "../fields/ColourField";
import { NumberField } from "../fields/NumberField";
import { Row } from "../fields/Row";
import { FormulaRow } from "../formula";
import { KeySteps, Pebble } from "../keys/Pebble";
import { PaintKinds } from "../kinds/layers/PaintRow";
import { Box, chakra } from "../parts/styled";
import { paintAt } from "../session/gradients";
import { useSession } from "../session/session";
import { useFormulasOpen } from "../state/formulas";
import { setTools, useTools } from "../state/tools";
import { RowMenu } from "./RowMenu";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  facts: PropertyFacts;
  track: Track;
}

/** A property: pebble, name, its numbers or colour, link, and the way to its keys. */
export function PropertyRow({ layer, name, label, facts, track }: Props) {
  const session = useSession();
  const unlinked = useTools((state) => state.unlinked[`${layer.id}.${name}`] ?? false);
  const linked = facts.linked && !unlinked;
  const parts = facts.parts.length;

  const numbers = (): number[] | null => {
    const arrays = session.frames.layer(layer.id!);
    return arrays && name in arrays.values ? [...row(arrays, arrays.values[name], session.frames.frame)] : null;
  };

  const setting = (value: number | string | [number | null, number | null]): Edit => {
    const { frame } = session.frames;
    return { edit: "set_property", layer: layer.id!, property: name, frame, value, linked };
  };

  const change = (part: number, value: number): Edit => {
    if (parts === 1) return setting(value);
    return setting(part === 0 ? [value, null] : [null, value]);
  };

  // The coral of the anchor is for marks; words take its ink.
  const tone = facts.role === "anchor" ? "anchorInk" : facts.role;
  const paint = paintAt(layer, name);
  const colour = typeof track.rest === "string";
  const disabled = layer.locked;
  const open = useFormulasOpen((state) => state[`${layer.id}.${name}`] ?? false);
  const takes = facts.unit !== undefined && !name.endsWith(".points");
  return (
    <>
      <Row label={label} reads={`${layer.id} ${name}`}>
        <Pebble layer={layer} name={name} label={label} track={track} tone={tone} />
        <RowMenu layer={layer} name={name} label={label} tone={tone} />
        {colour ? (
          <ColourField
            label={label}
            numbers={numbers}
            set={(value, keep, named) => {
              const edit = { ...setting(value), named: named ?? null } as Edit;
              if (keep) void session.edit(edit);
              else session.try([edit]);
            }}
            disabled={disabled}
            more={paint && <PaintKinds layer={layer} paint={paint} />}
          />
        ) : (
          facts.parts.map((part, index) => (
            <NumberField
              key={part || name}
              label={part ? `${label} ${part}` : label}
              unit={parts > 1 ? (facts.unit === "%" ? "%" : part) : facts.unit}
              step={facts.step}
              width={parts > 1 ? "57px" : "120px"}
              disabled={disabled}
              read={() => numbers()?.[index] ?? null}
              attempt={(value) => session.try([change(index, value)])}
              keep={(value, run) => session.keep(run, change(index, value))}
            />
          ))
        )}
        <Box flex="1" />
        {facts.linked && (
          <chakra.button
            type="button"
            aria-label={linked ? `Unlink ${label} x and y` : `Link ${label} x and y`}
            title={linked ? "Unlink x and y" : "Link x and y"}
            aria-pressed={linked}
            color={linked ? "act" : "quiet"}
            cursor="pointer"
            onClick={() => setTools((state) => ({ unlinked: { ...state.unlinked, [`${layer.id}.${name}`]: linked } }))}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          >
            {linked ? <Link2 size={14} /> : <Link2Off size={14} />}
          </chakra.button>
        )}
        <KeySteps layer={layer} name={name} label={label} track={track} />
      </Row>
      {takes && (open || track.formula) && (
        <FormulaRow layer={layer} name={name} label={label} facts={facts} stored={track.formula ?? ""} />
      )}
    </>
  );
}
