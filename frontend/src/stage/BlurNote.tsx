import { Box } from "../parts/styled";
import { usePage } from "../state/page";

/** That the picture is sharp until what moves in it is blurred, in words, as long as it is so. */
export function BlurNote() {
  const blurring = usePage((state) => state.blurring);
  if (!blurring) return null;
  return (
    <Box
      data-testid="blur-note"
      position="absolute"
      bottom="8px"
      left="50%"
      transform="translateX(-50%)"
      px="3"
      py="0.5"
      borderRadius="full"
      bg="paper"
      fontSize="row"
      pointerEvents="none"
    >
      Blurring what moves …
    </Box>
  );
}
