import { RotateCcw } from "lucide-react";
import type { Edit, Layer } from "../api/client";
import { IconButton } from "../parts/IconButton";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { SlotField } from "./SlotField";
import { type SlotValue, useInnerSlots } from "./useSlots";

interface Fill {
  slot: string;
  value: SlotValue;
}

/** The slots of the scene that a layer shows, filled for this layer alone. */
export function InnerSlots({ layer }: { layer: Layer }) {
  const session = useSession();
  const { asset, fills = [] } = layer.content as { asset: string; fills?: Fill[] };
  const slots = useInnerSlots(asset).filter(({ value }) => value !== null);
  if (!slots.length) return null;
  const edit = (slot: string, value: SlotValue | null) =>
    ({ edit: "fill_slots", layer: layer.id!, fills: [{ slot, value }] }) as Edit;
  return (
    <Box role="group" aria-label="Slots" mt="1.5">
      {slots.map((slot) => {
        const own = fills.find((one) => one.slot === slot.id);
        return (
          <Flex key={slot.id} align="center" gap="1.5" minHeight="29px" py="1px">
            <Text width="76px" flex="none" fontWeight={own ? 600 : 500} color={own ? "ink" : "quiet"} truncate>
              # {slot.name}
            </Text>
            <Box flex="1" minWidth="0">
              <SlotField
                slot={slot}
                value={(own?.value ?? slot.value)!}
                fill={(value, keep, run) =>
                  keep ? session.keep(run, edit(slot.id, value)) : session.try([edit(slot.id, value)])
                }
                drop={() => session.cancel()}
              />
            </Box>
            <IconButton
              label={`${slot.name} as in the scene`}
              hidden={!own}
              onClick={() => void session.edit(edit(slot.id, null))}
            >
              <RotateCcw size={12} />
            </IconButton>
          </Flex>
        );
      })}
    </Box>
  );
}
