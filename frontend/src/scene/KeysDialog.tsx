import { Dialog, Flex, Portal, Text } from "@chakra-ui/react";
import { X } from "lucide-react";
import { Pill } from "../parts/Pill";
import { choose, useChoices } from "./choices";
import { KEYS } from "./keyboard";

/** Every key and gesture in one list. */
export function KeysDialog() {
  const open = useChoices((state) => state.dialog === "keys");
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(change) => choose({ dialog: change.open ? "keys" : null })}
      lazyMount
      unmountOnExit
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="paper" color="ink" maxWidth="600px" borderRadius="16px">
            <Dialog.Header pb="1">
              <Dialog.Title fontSize="16px">Keys and gestures</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="4">
              {KEYS.map(([keys, text]) => (
                <Flex key={keys} gap="3" py="1" borderTopWidth="1px" borderColor="edge">
                  <Text width="200px" flex="none" fontWeight={650}>
                    {keys}
                  </Text>
                  <Text color="quiet">{text}</Text>
                </Flex>
              ))}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <Pill look="bare" label="Close" position="absolute" top="3" right="3">
                <X size={16} />
              </Pill>
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
