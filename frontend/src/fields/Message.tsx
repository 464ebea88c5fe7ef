import { CircleAlert, X } from "lucide-react";
import { useEffect } from "react";
import type { Edit } from "../api/client";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { setPage, usePage } from "../state/page";

interface Props {
  undo?: () => void;
  /** Make the edits that a message offers. */
  make?: (edits: Edit[]) => void;
  /** Over the lower edge of what it lies in; else of the window. */
  within?: boolean;
}

/** What was done, or what was wrong, said in a line; from there it can be undone. */
export function Message({ undo, make, within }: Props) {
  const said = usePage((state) => state.said);
  useEffect(() => {
    if (!said || said.stop) return;
    const timer = setTimeout(() => setPage({ said: null }), said.kind === "problem" ? 14_000 : 7_000);
    return () => clearTimeout(timer);
  }, [said]);
  return (
    <Flex
      role="status"
      aria-live="polite"
      data-testid="said"
      position={within ? "absolute" : "fixed"}
      bottom="14px"
      left="50%"
      transform="translateX(-50%)"
      zIndex="toast"
      width="max-content"
      maxWidth="min(820px, 92%)"
    >
      {said && (
        <Flex
          align="center"
          gap="2"
          px="4"
          py="1.5"
          borderRadius="16px"
          borderWidth="1px"
          borderColor={said.kind === "problem" ? "findingInk" : "edge"}
          bg={said.kind === "problem" ? "finding" : "ink"}
          color={said.kind === "problem" ? "findingInk" : "paper"}
          boxShadow="lg"
        >
          {said.kind === "problem" && <CircleAlert size={16} style={{ flex: "none" }} aria-hidden />}
          <Text fontSize="title">{said.text}</Text>
          {said.offer && make && (
            <Pill
              look="plain"
              color="ink"
              height="24px"
              onClick={() => {
                setPage({ said: null });
                make(said.offer!.edits);
              }}
            >
              {said.offer.button}
            </Pill>
          )}
          {said.press && (
            <Pill
              look="plain"
              color="ink"
              height="24px"
              onClick={() => {
                setPage({ said: null });
                said.press!.run();
              }}
            >
              {said.press.button}
            </Pill>
          )}
          {said.stop && (
            <Pill look="plain" color="ink" height="24px" onClick={said.stop}>
              Stop
            </Pill>
          )}
          {said.undo && undo && (
            <Pill look="plain" height="24px" onClick={undo}>
              Undo
            </Pill>
          )}
          <Pill
            look="bare"
            label="Put this line away"
            height="control"
            color="inherit"
            onClick={() => setPage({ said: null })}
          >
            <X size={14} />
          </Pill>
        </Flex>
      )}
    </Flex>
  );
}
