import {
  ChevronRight,
  CircleCheck,
  CircleDashed,
  Contrast,
  EyeOff,
  Film,
  type LucideIcon,
  Scan,
  Scissors,
  SquareDashed,
  SquareFunction,
  Timer,
  TriangleAlert,
  Type,
  Volume2,
  Zap,
  ZoomIn,
} from "lucide-react";
import { useEffect } from "react";
import type { Edit, Finding } from "../api/client";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { say } from "../state/page";
import { setPlayback } from "../state/playback";
import { select, selection, setSelection, useSelection } from "../state/selection";
import { useFindings, usePictureFindings } from "./useFindings";

const FAILED = "The checks could not be made. They are made again after the next change.";

const same = (a: Finding, b: Finding | null) => a.layer === b?.layer && a.check === b.check;

/** What is looked at by each check; those that other packages bring are told by the general sign. */
const ICONS: Record<string, LucideIcon> = {
  coverage: Scan,
  sharpness: ZoomIn,
  "safe area": SquareDashed,
  "reading time": Timer,
  jump: Zap,
  formula: SquareFunction,
  "not showing": EyeOff,
  font: Type,
  "clip end": Film,
  "never shows": EyeOff,
  "cut step": Scissors,
  contrast: Contrast,
  flashes: Zap,
  "costly effects": Timer,
  "full scale": Volume2,
};

/** What the checks find: a count, and a list that goes there, mends, or leaves it as it is. */
export function ChecksMenu() {
  const { findings: known, failed, soon } = useFindings();
  const { seen, looking, look } = usePictureFindings();
  const findings = known && [...known, ...(seen ?? [])];
  const open = (findings ?? []).filter((one) => !one.left);
  const shown = useSelection((state) => state.finding);
  useEffect(() => {
    // The drawing of a finding follows its newest figures, and ends with it.
    if (!shown) return;
    const now = open.find((one) => same(one, shown)) ?? null;
    if (JSON.stringify(now) !== JSON.stringify(shown)) setSelection({ finding: now });
  });
  const count = open.length === 1 ? "1 finding" : `${open.length} findings`;
  const words = failed ? "could not be made" : !findings ? "being made" : open.length ? count : "nothing found";
  return (
    <Popover
      label="Checks"
      width="372px"
      placement="bottom-end"
      testId="checks"
      trigger={
        <Pill look={open.length ? "finding" : "bare"} label={`Checks: ${words}`} data-testid="checks-count">
          {open.length ? (
            <TriangleAlert size={14} />
          ) : findings && !failed ? (
            <CircleCheck size={15} />
          ) : (
            <CircleDashed size={15} />
          )}
          {open.length || null}
        </Pill>
      }
    >
      {() => (
        <List
          findings={findings ?? []}
          words={failed ? FAILED : findings ? null : "The checks are being made…"}
          soon={soon}
        >
          {seen ? (
            <Text color="quiet" fontSize="row">
              Pictures and sound were looked at, too.
            </Text>
          ) : (
            <Pill
              height="24px"
              px="2.5"
              fontSize="row"
              disabled={looking}
              label="Look at the pictures and the sound, too"
              title="Contrast of texts, flashes, what effects cost, sound over full scale: every frame is painted"
              onClick={look}
            >
              {looking ? "Looking at every frame…" : "Look at the pictures and the sound, too"}
            </Pill>
          )}
        </List>
      )}
    </Popover>
  );
}

interface ListProps {
  findings: Finding[];
  /** What stands in place of "nothing found" while that is not known. */
  words: string | null;
  soon: () => void;
  children: React.ReactNode;
}

function List({ findings, words, soon, children }: ListProps) {
  const open = findings.filter((finding) => !finding.left);
  const left = findings.filter((finding) => finding.left);
  return (
    <Box role="group" aria-label="Checks" maxHeight="60vh" overflowY="auto">
      <Text fontWeight={700} mb="1.5">
        Checks
      </Text>
      {!open.length && (
        <Text color="quiet" mb="1">
          {words ?? "Nothing found: coverage, sharpness, safe area, reading time and jumps are as they should be."}
        </Text>
      )}
      {open.map((one) => (
        <Item key={`${one.layer}.${one.check}`} finding={one} soon={soon} />
      ))}
      <Box mt="1.5">{children}</Box>
      {left.length > 0 && (
        <>
          <Text fontWeight={600} fontSize="row" color="quiet" mt="2.5" mb="1">
            Left as they are
          </Text>
          {left.map((one) => (
            <Item key={`${one.layer}.${one.check}`} finding={one} soon={soon} />
          ))}
        </>
      )}
    </Box>
  );
}

/** A finding: its sentence goes to the layer and its first frame, and draws the figure on the stage. */
function Item({ finding, soon }: { finding: Finding; soon: () => void }) {
  const session = useSession();
  const { scene } = useScene();
  const shown = useSelection((state) => same(finding, state.finding));
  const name = scene.layers?.find((layer) => layer.id === finding.layer)?.name ?? "Scene";
  const about = `${finding.check} of ${name}`;
  const Icon = ICONS[finding.check] ?? TriangleAlert;
  const go = () => {
    if (finding.layer && selection().selected.join() !== finding.layer) select(finding.layer);
    session.frames.seek(finding.frame);
    setSelection({ finding: finding.left ? null : finding });
    setPlayback({ playing: false });
  };
  const keep = async (text: string, ...edits: Edit[]) => {
    soon();
    if (await session.edit(...edits)) say(text, true);
  };
  const leave = (on: boolean) =>
    keep(on ? `Left the ${about} as it is.` : `The ${about} is checked again.`, {
      edit: "leave_finding",
      layer: finding.layer,
      check: finding.check,
      leave: on,
    });
  return (
    <Box
      role="group"
      aria-label={about}
      borderTopWidth="1px"
      borderColor="edge"
      py="1.5"
      data-shown={shown ? "yes" : undefined}
      opacity={finding.left ? 0.75 : 1}
    >
      <chakra.button
        type="button"
        display="block"
        width="100%"
        textAlign="left"
        cursor="pointer"
        borderRadius="8px"
        px="1.5"
        py="0.5"
        bg={shown ? "finding" : undefined}
        color={shown ? "findingInk" : undefined}
        title="Go to its layer and first frame"
        _hover={{ bg: "finding", color: "findingInk" }}
        _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        onClick={go}
      >
        <Flex gap="2" align="center">
          <Icon size={15} aria-hidden style={{ flex: "none" }} />
          <Text fontWeight={600} truncate>
            {name}
          </Text>
          <Text whiteSpace="nowrap">{finding.check}</Text>
          <Box flex="1" />
          <Text color={shown ? undefined : "quiet"}>{timecode(finding.frame, scene)}</Text>
          <ChevronRight size={14} aria-hidden style={{ flex: "none" }} />
        </Flex>
        <Text pl="23px">{finding.sentence}</Text>
      </chakra.button>
      <Flex gap="1.5" mt="1" pl="29px">
        {finding.left ? (
          <Pill height="24px" px="2.5" fontSize="row" onClick={() => void leave(false)}>
            Check it again
          </Pill>
        ) : (
          <>
            {finding.edits.length > 0 && (
              <Pill
                look="act"
                height="24px"
                px="2.5"
                fontSize="row"
                onClick={() => void keep(`Fixed the ${about}.`, ...(finding.edits as unknown as Edit[]))}
              >
                Fix it
              </Pill>
            )}
            {finding.parts.length > 0 && (
              <Pill
                height="24px"
                px="2.5"
                fontSize="row"
                title="The same scale for all parts of this shot, so that it does not jump from one to the next"
                onClick={() =>
                  void keep(`Fixed the ${about} and of the parts beside it.`, ...(finding.parts as unknown as Edit[]))
                }
              >
                Fix all its parts
              </Pill>
            )}
            {finding.layer && (
              <Pill height="24px" px="2.5" fontSize="row" onClick={() => void leave(true)}>
                Ignore
              </Pill>
            )}
          </>
        )}
      </Flex>
    </Box>
  );
}
