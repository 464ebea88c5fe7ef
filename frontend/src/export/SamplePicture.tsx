import { useEffect, useState } from "react";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { betweenWords, timeWords } from "./asked";
import type { useSample } from "./useSample";

/** A part of the film as it will be encoded, moving, and how large and how long in the making the whole will be. */
export function SamplePicture({ sample, fault, waiting }: ReturnType<typeof useSample>) {
  const picture = sample?.picture;
  const [url, setUrl] = useState("");
  useEffect(() => {
    if (!picture) return setUrl("");
    const bytes = Uint8Array.from(atob(picture), (letter) => letter.charCodeAt(0));
    const made = URL.createObjectURL(new Blob([bytes], { type: "image/webp" }));
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [picture]);
  return (
    <Box>
      <Flex
        height="190px"
        align="center"
        justify="center"
        borderRadius="10px"
        bg="surround"
        overflow="hidden"
        data-testid="export-sample"
        data-ready={sample ? "yes" : "no"}
      >
        {url ? (
          <chakra.img
            src={url}
            alt="A part as it will be encoded"
            maxWidth="100%"
            maxHeight="100%"
            css={{
              background: "repeating-conic-gradient({colors.edge} 0 25%, {colors.well} 0 50%) 0 0 / 16px 16px",
            }}
          />
        ) : (
          <Text color="ink" px="4" textAlign="center">
            {sample ? "There is no preview of this format." : waiting ? "A part of it is made…" : ""}
          </Text>
        )}
      </Flex>
      <Text mt="1" minHeight="18px" color="quiet" fontSize="caption" aria-live="polite" data-testid="export-guess">
        {sample
          ? [
              sample.shown > 1 && `${sample.shown} frames as they will be encoded`,
              sample.most > 0 && `about ${betweenWords(sample.least, sample.most)}`,
              sample.seconds > 0 && `${sample.seconds < 1 ? "" : "about "}${timeWords(sample.seconds)} to make`,
            ]
              .filter(Boolean)
              .join(" · ")
          : fault}
      </Text>
      {sample && sample.lost.length > 0 && (
        <Box
          role="note"
          aria-label="What it cannot say"
          mt="1"
          bg="finding"
          color="findingInk"
          borderRadius="10px"
          px="3"
          py="1.5"
        >
          {sample.lost.map((told) => (
            <Text key={told}>{told}</Text>
          ))}
        </Box>
      )}
    </Box>
  );
}
