import { Plus } from "lucide-react";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { addressAt, itemLayer, itemsOf, masksOf } from "../document/items";
import { EyeButton } from "../fields/EyeButton";
import { NameField } from "../fields/NameField";
import { NumberField } from "../fields/NumberField";
import { kindOfShape, SHAPES } from "../kinds/shapes";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { Select } from "../parts/Select";
import { Box, chakra, Flex } from "../parts/styled";
import { startDrawing } from "../session/drawnPath";
import { useSession } from "../session/session";
import { select, setSelection, useSelection } from "../state/selection";

export const MODES: [string, string][] = [
  ["add", "add"],
  ["subtract", "take away"],
  ["intersect", "within"],
];

/** The masks of a layer or a group, in the order in which they act; a click on one goes to it. */
export function MaskList({ layer }: { layer: Layer }) {
  const session = useSession();
  const selected = useSelection((state) => state.selected);
  const renaming = useSelection((state) => state.renaming);
  const masks = layer.masks ?? [];
  const holder = session.layer(masksOf(layer.id!));
  if (!masks.length || !holder) return null;
  return (
    <Box role="list" aria-label={`Masks of ${layer.name}`} mx="-1.5">
      {masks.map((mask, index) => {
        const one = itemLayer(holder, index)!;
        const on = selected.includes(one.id!);
        const Icon = kindOfShape(itemsOf(holder)[index])?.icon;
        const feather = `masks.${index}.feather`;
        const setting = (value: number) => ({
          edit: "set_property" as const,
          layer: layer.id!,
          property: feather,
          frame: session.frames.frame,
          value,
          linked: false,
        });
        return (
          <Flex
            key={one.id}
            role="listitem"
            aria-label={mask.name}
            align="center"
            gap="1.5"
            height="29px"
            px="1.5"
            borderRadius="control"
            bg={on ? "actWash" : undefined}
          >
            {Icon && <Icon size={13} />}
            {renaming === one.id ? (
              <NameField layer={one} label="Mask name" />
            ) : (
              <chakra.button
                type="button"
                flex="1"
                minWidth="0"
                textAlign="left"
                truncate
                cursor="pointer"
                fontWeight={on ? 700 : 500}
                color={mask.visible !== false ? "ink" : "quiet"}
                aria-pressed={on}
                _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                onClick={() => select(one.id!)}
                onDoubleClick={() => setSelection({ renaming: one.id! })}
              >
                {mask.name}
              </chakra.button>
            )}
            <Select
              label={`How ${mask.name} acts`}
              width="76px"
              value={mask.mode ?? "add"}
              options={MODES}
              disabled={layer.locked}
              onChange={(mode) =>
                void session.edit({ edit: "set_mask", layer: layer.id!, mask: mask.id!, mode: mode as "add" })
              }
            />
            <NumberField
              label={`Feather of ${mask.name}`}
              unit="px"
              width="62px"
              disabled={layer.locked}
              read={() => {
                const arrays = session.frames.layer(layer.id!);
                return arrays && feather in arrays.values
                  ? row(arrays, arrays.values[feather], session.frames.frame)[0]
                  : null;
              }}
              attempt={(value) => session.try([setting(value)])}
              keep={(value, run) => session.keep(run, setting(value))}
            />
            <EyeButton layer={one} locked={layer.locked} size={13} />
          </Flex>
        );
      })}
    </Box>
  );
}

/** Offers the shapes that a mask may have, and a path to draw. */
export function AddMask({ layer }: { layer: Layer }) {
  const session = useSession();
  const add = (event: React.MouseEvent<HTMLButtonElement>) => {
    const acts = SHAPES.filter(({ masks }) => masks).map(({ name, shape }): Act => [name, () => void made(shape)]);
    openMenuBelow(
      "Add a mask",
      [...acts, ["Draw a path", () => startDrawing(masksOf(layer.id!))]],
      event.currentTarget,
    );
  };
  const made = async (shape: string) => {
    const { frame } = session.frames;
    if (!(await session.edit({ edit: "add_mask", layer: layer.id!, frame, shape, mode: "add" }))) return;
    const holder = session.layer(masksOf(layer.id!));
    if (holder) select(addressAt(holder, itemsOf(holder).length - 1));
  };
  return (
    <button
      type="button"
      className="bare"
      aria-label="Add a mask"
      title="Add a mask"
      aria-haspopup="menu"
      disabled={layer.locked}
      onClick={add}
    >
      <Plus size={15} />
    </button>
  );
}
