import { Pencil, Plus, X } from "lucide-react";
import { useRef, useState } from "react";
import { IconButton } from "../parts/IconButton";
import { NameInput } from "../parts/NameInput";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useProjectColours } from "../session/named";
import { CHEQUER } from "../theme/theme";

interface Props {
  label: string;
  value: () => string;
  /** Take a colour that the property follows from then on. */
  use: (colour: string, id: string) => void;
}

/** What WCAG asks of words on a ground: at least 4.5, or 3 of large ones. */
const grade = (contrast: number) => (contrast >= 7 ? "AAA" : contrast >= 4.5 ? "AA" : contrast >= 3 ? "large" : "");

/** The colours that the project has under names: used, changed everywhere, called otherwise, taken away. */
export function ProjectColours({ label, value, use }: Props) {
  const { colours, keep, drop } = useProjectColours();
  const [changing, setChanging] = useState<string | null>(null);
  const [naming, setNaming] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  // The field that had the keyboard is gone: it stays in the sheet.
  const done = () => {
    setChanging(null);
    setNaming(false);
    requestAnimationFrame(() => box.current?.querySelector("button")?.focus());
  };
  return (
    <Box ref={box} mb="2" role="group" aria-label="Colours of the project">
      <Text fontSize="caption" color="quiet" mb="1">
        {colours.length ? "In this project" : "In this project: none under a name yet"}
      </Text>
      <Box maxHeight="168px" overflowY="auto">
        {colours.map(({ id, name, colour, contrast }) =>
          changing === id ? (
            <Change
              key={id}
              name={name}
              colour={colour}
              leave={done}
              take={async (to) => {
                const same = to.name === name && to.colour === colour;
                if (same || (await keep(to.name, to.colour, id))) done();
              }}
            />
          ) : (
            <Flex key={id} align="center" gap="1.5" height="24px">
              <chakra.button
                type="button"
                aria-label={`${name}, ${colour.slice(0, 7)}`}
                title={`Let ${label.toLowerCase()} follow ${name}`}
                display="flex"
                alignItems="center"
                gap="1.5"
                flex="1"
                minWidth="0"
                cursor="pointer"
                borderRadius="5px"
                _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                onClick={() => use(colour, id)}
              >
                <span
                  style={{
                    flex: "none",
                    width: 22,
                    height: 17,
                    borderRadius: 5,
                    border: "1px solid #0003",
                    background: `linear-gradient(${colour}, ${colour}), ${CHEQUER}`,
                  }}
                />
                <Text truncate fontSize="row" fontWeight={600}>
                  {name}
                </Text>
              </chakra.button>
              {contrast != null && (
                <Text fontSize="caption" color="quiet" title="Its contrast with the scene's ground (WCAG)">
                  {contrast.toFixed(1)} {grade(contrast)}
                </Text>
              )}
              <IconButton label={`Change ${name} everywhere`} onClick={() => setChanging(id)}>
                <Pencil size={11} />
              </IconButton>
              <IconButton label={`Take ${name} out of the project`} onClick={() => void drop(name)}>
                <X size={11} />
              </IconButton>
            </Flex>
          ),
        )}
      </Box>
      {naming ? (
        <Change
          name=""
          colour={value()}
          leave={done}
          take={async (given) => {
            const id = await keep(given.name, given.colour);
            if (!id) return;
            done();
            use(given.colour, id);
          }}
        />
      ) : (
        <Pill height="control" mt="1" label="Keep this one under a name" onClick={() => setNaming(true)}>
          <Plus size={12} /> Keep this one
        </Pill>
      )}
    </Box>
  );
}

interface ChangeProps {
  name: string;
  colour: string;
  /** Keeps what was given, and closes once it is kept: what was typed stays until then. */
  take: (given: { name: string; colour: string }) => Promise<void>;
  leave: () => void;
}

/** Name and colour as they are to be: Enter takes them, Esc gives up. */
function Change({ name, colour, take: keep, leave }: ChangeProps) {
  const [typed, setTyped] = useState(name);
  const [picked, setPicked] = useState(colour);
  const busy = useRef(false);
  const take = async () => {
    if (!typed.trim() || busy.current) return;
    busy.current = true;
    await keep({ name: typed.trim(), colour: picked });
    busy.current = false;
  };
  return (
    <Flex align="center" gap="1.5" my="1">
      <chakra.input
        type="color"
        aria-label="Colour under this name"
        value={picked.slice(0, 7)}
        width="34px"
        height="control"
        flex="none"
        padding="1px"
        borderWidth="1px"
        borderColor="field"
        borderRadius="control"
        bg="well"
        onChange={(event) => setPicked(`${event.currentTarget.value}${picked.slice(7)}`)}
      />
      <NameInput label="Name of the colour" value={typed} change={setTyped} take={() => void take()} leave={leave} />
      <Pill height="control" px="2" disabled={!typed.trim()} onClick={() => void take()}>
        Keep
      </Pill>
    </Flex>
  );
}
