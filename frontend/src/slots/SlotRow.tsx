import { Ellipsis } from "lucide-react";
import { useState } from "react";
import type { Edit } from "../api/client";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { NameInput } from "../parts/NameInput";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { select } from "../state/selection";
import { SlotBounds } from "./SlotBounds";
import { SlotField } from "./SlotField";
import { type SlotFacts, type SlotValue, useSlots } from "./useSlots";

/** One slot of the scene: its name, what fills it, and what can be done with it. */
export function SlotRow({ slot, tall }: { slot: SlotFacts; tall?: boolean }) {
  const session = useSession();
  const all = useSlots();
  const place = all.findIndex(({ id }) => id === slot.id);
  const [name, setName] = useState<string | null>(null);
  const [bounds, setBounds] = useState(false);
  const edit = (value: SlotValue) => ({ edit: "fill_slots", fills: [{ slot: slot.id, value }] }) as Edit;
  const change = (fields: object) => session.edit({ edit: "change_slot", slot: slot.id, ...fields } as Edit);
  const rename = () => {
    const wanted = name?.trim();
    setName(null);
    if (wanted && wanted !== slot.name) void change({ name: wanted });
  };
  const acts = (): Act[][] => {
    const group: Act[] = [
      ["Rename", () => setName(slot.name)],
      ["Bounds…", () => setBounds(true)],
    ];
    if (slot.kind === "picture" || slot.kind === "clip") {
      const other = slot.fit === "fill" ? "inside" : "fill";
      group.push([other === "fill" ? "Fills the box" : "Lies inside of the box", () => void change({ fit: other })]);
    }
    if (slot.layers.length) group.push(["Select what it fills", () => select(...new Set(slot.layers))]);
    const order: Act[] = [];
    if (place > 0) order.push(["Move up", () => void change({ to: place - 1 })]);
    if (place < all.length - 1) order.push(["Move down", () => void change({ to: place + 1 })]);
    const last: Act[] = [["Remove the slot", () => void session.edit({ edit: "remove_slot", slot: slot.id } as Edit)]];
    return [group, ...(order.length ? [order] : []), last];
  };
  const title = slot.fills.join(", ");
  return (
    <Box role="group" aria-label={slot.name} py={tall ? "1.5" : "1px"} data-testid="slot">
      <Flex align="center" gap="1.5" minHeight="29px" flexWrap={tall ? "wrap" : undefined}>
        {name === null ? (
          <Text
            width={tall ? undefined : "76px"}
            flex={tall ? "1" : "none"}
            fontWeight={600}
            title={title}
            truncate
            onDoubleClick={() => setName(slot.name)}
          >
            # {slot.name}
          </Text>
        ) : (
          <NameInput
            label={`Name of the slot ${slot.name}`}
            value={name}
            change={setName}
            take={rename}
            leave={() => setName(null)}
            onBlur={rename}
          />
        )}
        {tall && <More slot={slot} acts={acts} />}
        {slot.value !== null && (
          <Box flex={tall ? "0 0 100%" : "1"} minWidth="0">
            <SlotField
              slot={slot}
              value={slot.value}
              fill={(value, keep, run) => (keep ? session.keep(run, edit(value)) : session.try([edit(value)]))}
              drop={() => session.cancel()}
            />
          </Box>
        )}
        {!tall && <More slot={slot} acts={acts} />}
      </Flex>
      {slot.gone && (
        <Text bg="finding" color="findingInk" borderRadius="control" px="2" py="0.5" fontSize="row">
          {slot.gone}
        </Text>
      )}
      {bounds && <SlotBounds slot={slot} close={() => setBounds(false)} change={change} />}
    </Box>
  );
}

function More({ slot, acts }: { slot: SlotFacts; acts: () => Act[][] }) {
  return (
    <Pill
      look="bare"
      px="1.5"
      label={`More for the slot ${slot.name}`}
      aria-haspopup="menu"
      onClick={(event) => openMenuBelow(slot.name, acts(), event.currentTarget)}
    >
      <Ellipsis size={14} />
    </Pill>
  );
}
