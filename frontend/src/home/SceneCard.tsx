import { Ellipsis, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { SceneCard } from "../api/client";
import { fps, timecode } from "../geometry/times";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { CHEQUER } from "../theme/theme";

interface Props {
  scene: SceneCard;
  remove: () => void;
  recover: () => void;
  /** What else can be done with it. */
  acts: Act[][];
}

/** Stills of a scene that a pointer going across brings up. */
const STILLS = 10;

/** A scene in small: where most of its work stands, and other moments as the pointer goes across. */
function MovingPicture({ scene }: { scene: SceneCard }) {
  const [at, setAt] = useState<number | null>(null);
  const frame = at ?? scene.poster;
  return (
    <img
      src={`/api/scenes/${scene.id}/still?frame=${frame}&width=480&revision=${scene.revision}`}
      alt={`Frame ${scene.poster} of ${scene.name}`}
      data-frame={frame}
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const part = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 0.999);
        setAt(Math.floor((Math.floor(part * STILLS) / STILLS) * scene.length));
      }}
      onPointerLeave={() => setAt(null)}
      style={{ maxWidth: "100%", maxHeight: "100%", background: CHEQUER, borderRadius: 3 }}
    />
  );
}

/** A scene of a project: its picture, its facts, and what can be done with it. */
export function Card({ scene, remove, recover, acts }: Props) {
  const rate = Math.round(fps(scene) * 1000) / 1000;
  const seen = (
    <>
      <Flex height="158px" align="center" justify="center" bg="surround" p="2.5">
        {scene.fault ? (
          <Box bg="finding" color="findingInk" borderRadius="10px" px="3" py="2" fontSize="title" overflowY="auto">
            <Text>{scene.fault}</Text>
            <Flex gap="2" mt="2" align="center" wrap="wrap">
              <Pill height="26px" onClick={recover}>
                Bring back its last good step
              </Pill>
              <chakra.a href={`/api/scenes/${scene.id}/raw`} download fontWeight={600} textDecoration="underline">
                Its file as stored
              </chakra.a>
            </Flex>
          </Box>
        ) : (
          <MovingPicture scene={scene} />
        )}
      </Flex>
      <Box px="3.5" py="2.5">
        <Text fontWeight={700} fontSize="name" truncate>
          {scene.name}
        </Text>
        <Text color="quiet" fontSize="row">
          {scene.fault
            ? "cannot be opened"
            : `${scene.width} × ${scene.height} · ${rate} fps · ${timecode(scene.length, scene)}`}
        </Text>
      </Box>
    </>
  );
  return (
    <Box
      position="relative"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="14px"
      overflow="hidden"
      bg="well"
      _hover={{ borderColor: "act" }}
      _focusWithin={{ borderColor: "act" }}
      // Its tools are there for the pointer and for the keyboard.
      css={{ "& > [data-pill]": { opacity: 0 }, "&:hover > [data-pill], &:focus-within > [data-pill]": { opacity: 1 } }}
    >
      {scene.fault ? (
        <Box data-testid="unreadable-scene">{seen}</Box>
      ) : (
        <Link to={`/scene/${scene.id}`} data-testid="scene-card">
          {seen}
        </Link>
      )}
      {!scene.fault && (
        <Pill
          look="bare"
          label={`More of ${scene.name}`}
          position="absolute"
          right="9"
          bottom="2.5"
          color="quiet"
          onClick={(event) => openMenuBelow(`More of ${scene.name}`, acts, event.currentTarget)}
        >
          <Ellipsis size={14} />
        </Pill>
      )}
      <Pill
        look="bare"
        label={`Remove ${scene.name}`}
        position="absolute"
        right="2"
        bottom="2.5"
        color="quiet"
        onClick={remove}
      >
        <Trash2 size={14} />
      </Pill>
    </Box>
  );
}
