import { Window } from "../fields/Window";
import { Flex, Text } from "../parts/styled";
import { KEYS } from "./keyboard";

/** Every key and gesture in one list. */
export function KeysDialog() {
  return (
    <Window name="keys" title="Keys and gestures" width="600px">
      {KEYS.map(([keys, text]) => (
        <Flex key={keys} gap="3" py="1" borderTopWidth="1px" borderColor="edge">
          <Text width="200px" flex="none" fontWeight={600}>
            {keys}
          </Text>
          <Text color="quiet">{text}</Text>
        </Flex>
      ))}
    </Window>
  );
}
