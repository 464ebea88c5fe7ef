import { Table2 } from "lucide-react";
import { Pill } from "../parts/Pill";
import { Box, Text } from "../parts/styled";
import { useScene } from "../session/useScene";
import { SlotRow } from "../slots/SlotRow";
import { useSlots } from "../slots/useSlots";
import { setPage } from "../state/page";

/** The slots of the scene as a form: whoever fills it needs no lanes. */
export function SlotsDrawer() {
  const slots = useSlots();
  const { scene } = useScene();
  if (!scene.slots?.length)
    return (
      <Text color="quiet">
        A slot is a property under a name, which is filled here, from a table, or by a scene that shows this one. Select
        a layer, and choose <b>+</b> beside <b>Slots</b> in the panel, or <b>Make a slot</b> in the menu of a property’s
        name.
      </Text>
    );
  const rows = scene.rows?.length ?? 0;
  return (
    <Box>
      <Pill width="100%" onClick={() => setPage({ dialog: "titles" })}>
        <Table2 size={14} /> Titles from a table{rows ? ` (${rows})` : ""}…
      </Pill>
      <Box mt="2" role="form" aria-label="Slots of this scene">
        {slots.map((slot) => (
          <SlotRow key={slot.id} slot={slot} tall />
        ))}
      </Box>
    </Box>
  );
}
