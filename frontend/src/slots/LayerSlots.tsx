import { Plus } from "lucide-react";
import type { Layer } from "../api/client";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { sayProblem } from "../state/page";
import { makeSlot } from "./makeSlot";
import { SlotRow } from "./SlotRow";
import { offersOf, useSlots } from "./useSlots";

/** The slots that a layer or a shape in it is filled by, and what else of it can be one. */
export function LayerSlots({ layer }: { layer: Layer }) {
  const session = useSession();
  const own = layer.id!.split("/")[0];
  const slots = useSlots().filter(({ layers }) => layers.includes(own));
  const offer = async (button: Element) => {
    try {
      const found = await offersOf(session.sceneId, layer.id!);
      const acts = found
        .filter(({ slot }) => !slot)
        .map(({ path, label }): Act => [label, () => void makeSlot(session, layer.id!, path, label)]);
      if (acts.length) openMenuBelow("Make a slot of", acts, button);
    } catch (error) {
      sayProblem(error);
    }
  };
  return (
    <Box role="group" aria-label="Slots of the layer" borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5">
      <Flex align="center" minHeight="26px">
        <Text fontWeight={700} title="What a form, a table or another scene fills">
          Slots
        </Text>
        <Box flex="1" />
        <Pill
          look="bare"
          px="1.5"
          label="Make a property of it a slot"
          aria-haspopup="menu"
          onClick={(event) => void offer(event.currentTarget)}
        >
          <Plus size={14} />
        </Pill>
      </Flex>
      {slots.map((slot) => (
        <SlotRow key={slot.id} slot={slot} />
      ))}
    </Box>
  );
}
