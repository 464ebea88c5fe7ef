import type { KeyRef } from "../api/client";
import { NumberField } from "../fields/NumberField";
import { TimeField } from "../fields/TimeField";
import { counted, moveKeys, spanOf, stretchKeys } from "../keys/keys";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useSelection } from "../state/selection";

/** The selected keys in time: where the first stands, how many frames they take, stretched by a share. */
export function KeysBlock() {
  const keys = useSelection((state) => state.keys);
  return keys.length ? <Times keys={keys} /> : null;
}

function Times({ keys }: { keys: KeyRef[] }) {
  const session = useSession();
  const [first, last] = spanOf(keys);
  const length = last - first;
  return (
    <Box borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5" role="group" aria-label="Selected keys">
      <Flex align="center" gap="1.5" fontSize="row">
        <Text fontWeight={700} whiteSpace="nowrap" flex="1">
          {counted(keys)}
        </Text>
        <Text color="quiet">at</Text>
        <TimeField
          label="Time of the selected keys"
          frame={first}
          width="52px"
          keep={(to) => void moveKeys(session, keys, to - first)}
        />
        {length > 0 && (
          <>
            <Text color="quiet">for</Text>
            <TimeField
              label="Frames that the selected keys take"
              frame={length}
              least={1}
              width="52px"
              show={(frames) => `${Math.round(frames * 1000) / 1000} f`}
              keep={(to) => void stretchKeys(session, keys, first, to / length)}
            />
            <NumberField
              label="Stretch the selected keys to"
              unit="%"
              width="60px"
              read={() => 100}
              keep={(share) => share > 0 && stretchKeys(session, keys, first, share / 100)}
            />
          </>
        )}
      </Flex>
    </Box>
  );
}
