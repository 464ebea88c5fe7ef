import { Copy, MoveDown, MoveUp, Trash2 } from "lucide-react";
import { duplicate } from "../acts/duplicate";
import type { Layer } from "../api/client";
import { layerAt, outOf, parentOf, placeIn } from "../document/items";
import { factsOf, labelOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { kindOfShape } from "../kinds/shapes";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { select } from "../state/selection";
import { MODES } from "./MaskList";
import { PropertyRow } from "./PropertyRow";

type Covers = "inside" | "stroke" | "both";

const COVERS: [Covers, string][] = [
  ["inside", "its inside"],
  ["stroke", "its stroke"],
  ["both", "inside and stroke"],
];

/** How the selected mask acts, and its feather; all else of it is as of a shape. */
export function MaskBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const facts = useFacts();
  const owner = layerAt(scene.layers, outOf(layer.id!));
  const holder = layerAt(scene.layers, parentOf(layer.id!));
  const index = holder ? placeIn(holder, layer.id!) : -1;
  const mask = owner?.masks?.[index];
  if (!owner || !mask) return null;
  const name = `masks.${index}.feather`;
  const set = (change: { mode?: "add"; inverted?: boolean; covers?: Covers }) =>
    void session.edit({ edit: "set_mask", layer: owner.id!, mask: mask.id!, ...change });
  const id = layer.id!;
  const move = (by: 1 | -1) => void session.edit({ edit: "reorder_layer", layer: id, to: index + by });
  const remove = async () => {
    if (await session.edit({ edit: "delete_layers", layers: [id] })) select(owner.id!);
  };
  const { shape } = mask;
  const covers: Covers = !shape.stroke ? "inside" : shape.fill ? "both" : "stroke";
  const open = covers === "inside" && shape.shape === "path" && !shape.contours.some(({ closed }) => closed);
  return (
    <>
      <Flex role="group" aria-label="How it masks" align="center" gap="1.5" mb="1.5">
        <Select
          label="Mask"
          width="96px"
          value={mask.mode ?? "add"}
          options={MODES}
          disabled={layer.locked}
          onChange={(mode) => set({ mode: mode as "add" })}
        />
        <Select
          label="What the mask covers"
          width="132px"
          value={covers}
          options={COVERS.filter(([one]) => one === "stroke" || kindOfShape(shape)?.fills !== false)}
          disabled={layer.locked}
          onChange={(one) => set({ covers: one as Covers })}
        />
      </Flex>
      <Flex align="center" gap="1.5" mb="1.5">
        <Pill
          height="control"
          px="2.5"
          look={mask.inverted ? "on" : "plain"}
          aria-pressed={Boolean(mask.inverted)}
          disabled={layer.locked}
          onClick={() => set({ inverted: !mask.inverted })}
        >
          Inverted
        </Pill>
        <Box flex="1" />
        <IconButton label="Let the mask act earlier" disabled={layer.locked || index === 0} onClick={() => move(-1)}>
          <MoveUp size={14} />
        </IconButton>
        <IconButton
          label="Let the mask act later"
          disabled={layer.locked || index === (owner.masks?.length ?? 0) - 1}
          onClick={() => move(1)}
        >
          <MoveDown size={14} />
        </IconButton>
        <IconButton label="Duplicate the mask" disabled={layer.locked} onClick={() => void duplicate(session, [id])}>
          <Copy size={14} />
        </IconButton>
        <IconButton label="Delete the mask" disabled={layer.locked} onClick={() => void remove()}>
          <Trash2 size={14} />
        </IconButton>
      </Flex>
      {open && (
        <Text bg="finding" color="findingInk" borderRadius="control" px="2" py="1" mb="1.5" fontSize="row">
          The path is open: it masks as soon as it is closed, or along its stroke.
        </Text>
      )}
      <PropertyRow
        layer={owner}
        name={name}
        label={labelOf(owner, name, facts).split(" of ")[0]}
        facts={factsOf(owner, name, facts)}
        track={tracksOf(owner)[name]}
      />
    </>
  );
}
