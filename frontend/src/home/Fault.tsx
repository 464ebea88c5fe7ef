import { Heading } from "@chakra-ui/react";
import { useRouteError } from "react-router";
import { Pill } from "../parts/Pill";
import { Box, Text } from "../parts/styled";

/** What stands in place of a page that met a fault of its own. */
export function Fault() {
  const error = useRouteError();
  return (
    <Box role="alert" maxWidth="560px" p="10">
      <Heading size="lg" mb="2">
        This page met a fault of its own
      </Heading>
      <Text mb="4">
        Every step that was acknowledged is kept. Load the page again to go on; if it happens again, what follows helps
        to find the cause.
      </Text>
      <Pill look="act" onClick={() => location.reload()}>
        Load the page again
      </Pill>
      <Text mt="4" color="quiet" fontSize="row" fontFamily="mono">
        {error instanceof Error ? error.message.slice(0, 300) : String(error)}
      </Text>
    </Box>
  );
}
