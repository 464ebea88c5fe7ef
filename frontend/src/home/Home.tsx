import { Heading } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Pencil, Plus, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, need, Offline, type ProjectCard, type RemovedItem, type SceneCard } from "../api/client";
import { Message } from "../fields/Message";
import { fps, RATES, timecode } from "../geometry/times";
import { NightSwitch } from "../parts/NightSwitch";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, chakra, Flex, Grid, Text } from "../parts/styled";
import { DraftInput, TextInput } from "../parts/TextInput";
import { FACTS } from "../session/useScene";
import { say, sayProblem, setPage, settled } from "../state/page";
import { CHEQUER } from "../theme/theme";

const PROJECTS = {
  queryKey: ["projects"],
  queryFn: () => need(api.GET("/api/projects")) as Promise<ProjectCard[]>,
};

/** End the session; the server then asks for the password. */
async function logOut() {
  try {
    await fetch("/logout", { method: "POST" });
    location.assign("/");
  } catch {
    sayProblem(new Offline());
  }
}

/** How wide all of the page is, at most. */
const PAGE = "1244px";

/** The projects with pictures of their scenes, and the ways to begin. */
export function Home() {
  const cache = useQueryClient();
  const { data: projects, error } = useQuery(PROJECTS);
  const { data: facts } = useQuery(FACTS);
  const [last, setLast] = useState<(() => Promise<void>) | null>(null);
  useEffect(() => {
    document.title = "Mudskipper";
    setPage({ said: null });
  }, []);

  const renew = async () => {
    await cache.invalidateQueries({ queryKey: ["projects"] });
    await cache.invalidateQueries({ queryKey: ["removed"] });
  };
  const makeProject = async () => {
    try {
      // The list may not have come yet.
      const there = new Set((await cache.ensureQueryData(PROJECTS)).map(({ name }) => name));
      let number = there.size + 1;
      while (there.has(`Project ${number}`)) number++;
      await need(api.POST("/api/projects", { body: { name: `Project ${number}` } }));
      await renew();
    } catch (fault) {
      sayProblem(fault);
    }
  };
  const setRemoved = async ({ kind, id, name }: Item, removed: boolean) => {
    try {
      await need(
        kind === "scene"
          ? api.PUT("/api/scenes/{scene_id}/removed", { params: { path: { scene_id: id }, query: { removed } } })
          : api.PUT("/api/projects/{project_id}/removed", { params: { path: { project_id: id }, query: { removed } } }),
      );
      await renew();
      setLast(() => () => setRemoved({ kind, id, name }, false));
      if (removed) say(`Removed ${name}.`, true);
      else say(`${name} is back.`);
    } catch (fault) {
      sayProblem(fault);
    }
  };
  const recover = async ({ id, name }: SceneCard) => {
    try {
      await need(api.POST("/api/scenes/{scene_id}/recover", { params: { path: { scene_id: id } } }));
      await renew();
      say(`${name} stands at its last good step.`);
    } catch (fault) {
      sayProblem(fault);
    }
  };
  const rename = async (id: string, name: string) => {
    try {
      await need(api.PUT("/api/projects/{project_id}", { params: { path: { project_id: id } }, body: { name } }));
      await renew();
      settled();
      return true;
    } catch (fault) {
      sayProblem(fault);
      return false;
    }
  };

  return (
    <Box minHeight="100vh" bg="paper">
      <Box as="header" borderBottomWidth="1px" borderColor="edge">
        <Flex height="52px" align="center" maxWidth={PAGE} mx="auto" px="8" gap="1.5">
          <Text fontWeight={700} fontSize="page" color="act">
            mudskipper
          </Text>
          <Box flex="1" />
          {facts?.password && <Pill onClick={() => void logOut()}>Log out</Pill>}
          <NightSwitch />
          <Pill onClick={() => void makeProject()}>
            <Plus size={14} /> New project
          </Pill>
        </Flex>
      </Box>
      <Box as="main" maxWidth={PAGE} mx="auto" px="8" py="7">
        {error && <Text>{error.message}</Text>}
        {projects?.length === 0 && (
          <Text fontSize="name">No projects yet. Make one with New project, then begin a scene in it.</Text>
        )}
        {projects?.map((project) => (
          <Project
            key={project.id}
            project={project}
            rename={(name) => rename(project.id, name)}
            remove={(item) => void setRemoved(item, true)}
            recover={(scene) => void recover(scene)}
          />
        ))}
        <Removed bringBack={(item) => void setRemoved(item, false)} />
      </Box>
      <Message undo={last ? () => void last() : undefined} />
    </Box>
  );
}

/** Something that can be removed and brought back. */
interface Item {
  kind: "project" | "scene";
  id: string;
  name: string;
}

/** What was removed, with a way back; nothing is erased. */
function Removed({ bringBack }: { bringBack: (item: Item) => void }) {
  const { data = [] } = useQuery({
    queryKey: ["removed"],
    queryFn: () => need(api.GET("/api/removed")) as Promise<RemovedItem[]>,
  });
  if (!data.length) return null;
  return (
    <Box as="section" aria-label="Removed" borderTopWidth="1px" borderColor="edge" pt="5">
      <Heading as="h2" fontSize="name" fontWeight={700} mb="1.5">
        Removed
      </Heading>
      {data.map((item) => (
        <Flex key={item.id} align="center" gap="3" py="1" borderTopWidth="1px" borderColor="edge">
          <Text fontWeight={600} truncate>
            {item.name}
          </Text>
          <Text color="quiet" fontSize="row" whiteSpace="nowrap">
            {item.kind === "scene" ? `scene of ${item.project}` : "project with its scenes"}
          </Text>
          <Box flex="1" />
          <Pill height="26px" label={`Bring back ${item.name}`} onClick={() => bringBack(item)}>
            Bring back
          </Pill>
        </Flex>
      ))}
    </Box>
  );
}

interface ProjectProps {
  project: ProjectCard;
  rename: (name: string) => Promise<boolean>;
  remove: (item: Item) => void;
  recover: (scene: SceneCard) => void;
}

function Project({ project, rename, remove, recover }: ProjectProps) {
  const [making, setMaking] = useState(project.scenes.length === 0);
  const [renaming, setRenaming] = useState(false);
  return (
    <Box as="section" mb="10" aria-label={project.name}>
      <Flex align="baseline" gap="3" mb="3">
        {renaming ? (
          <Box
            onBlur={() => setRenaming(false)}
            onFocus={(event: React.FocusEvent<HTMLElement>) => (event.target as HTMLInputElement).select()}
          >
            <DraftInput
              autoFocus
              label="Project name"
              text={project.name}
              fontSize="page"
              fontWeight={700}
              height="34px"
              width="320px"
              take={rename}
            />
          </Box>
        ) : (
          <Heading
            as="h2"
            fontSize="page"
            fontWeight={700}
            minWidth="0"
            truncate
            title={project.name}
            onDoubleClick={() => setRenaming(true)}
          >
            {project.name}
          </Heading>
        )}
        <Pill look="bare" label={`Rename ${project.name}`} alignSelf="center" onClick={() => setRenaming(true)}>
          <Pencil size={14} />
        </Pill>
        <Pill
          look="bare"
          label={`Remove project ${project.name}`}
          alignSelf="center"
          onClick={() => remove({ kind: "project", id: project.id, name: project.name })}
        >
          <Trash2 size={14} />
        </Pill>
        <Text color="quiet">
          {project.scenes.length} {project.scenes.length === 1 ? "scene" : "scenes"}
        </Text>
      </Flex>
      {making && <NewScene project={project.id} />}
      <Grid templateColumns="repeat(auto-fill, minmax(264px, 1fr))" gap="5">
        {project.scenes.map((scene) => (
          <Card
            key={scene.id}
            scene={scene}
            remove={() => remove({ kind: "scene", id: scene.id, name: scene.name })}
            recover={() => recover(scene)}
          />
        ))}
        <NewSceneTile open={making} toggle={() => setMaking(!making)} />
      </Grid>
    </Box>
  );
}

/** Stands after the last scene, as large as one. */
function NewSceneTile({ open, toggle }: { open: boolean; toggle: () => void }) {
  return (
    <chakra.button
      type="button"
      aria-expanded={open}
      display="flex"
      alignItems="center"
      justifyContent="center"
      gap="1.5"
      minHeight="120px"
      fontWeight={600}
      color="act"
      cursor="pointer"
      borderWidth="1px"
      borderStyle="dashed"
      borderColor={open ? "act" : "field"}
      borderRadius="14px"
      bg={open ? "actWash" : undefined}
      _hover={{ borderColor: "act", bg: "actWash" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "1px" }}
      onClick={toggle}
    >
      <Plus size={15} aria-hidden /> New scene
    </chakra.button>
  );
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

function Card({ scene, remove, recover }: { scene: SceneCard; remove: () => void; recover: () => void }) {
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

const PURPOSES: { name: string; width: number; height: number; background: string; seconds: number; note: string }[] = [
  {
    name: "Lower third",
    width: 1920,
    height: 1080,
    background: "#00000000",
    seconds: 6,
    note: "over a film, transparent",
  },
  { name: "Title", width: 1920, height: 1080, background: "#fbf3e2ff", seconds: 8, note: "a full frame" },
  { name: "Square post", width: 1080, height: 1080, background: "#fbf3e2ff", seconds: 8, note: "for a feed" },
  { name: "Vertical story", width: 1080, height: 1920, background: "#fbf3e2ff", seconds: 10, note: "for a phone" },
  { name: "Strip", width: 1600, height: 240, background: "#00000000", seconds: 6, note: "a band or ticker" },
];

/** A new scene by purpose, or by numbers. */
function NewScene({ project }: { project: string }) {
  const go = useNavigate();
  const cache = useQueryClient();
  const [rate, setRate] = useState("30/1");
  const [size, setSize] = useState(["1920", "1080"]);
  const [seconds, setSeconds] = useState("5");
  const [fault, setFault] = useState("");

  const make = async (name: string, width: number, height: number, long: number, background: string) => {
    const [n, d] = rate.split("/").map(Number);
    const length = Math.round((long * n) / d);
    if (![width, height].every((side) => Number.isInteger(side) && side >= 1 && side <= 16384) || !(length >= 1)) {
      setFault("Width and height are whole numbers from 1 to 16384, and the length is more than 0 seconds.");
      return;
    }
    try {
      const body = { name, width, height, frame_rate: [n, d] as [number, number], length, background };
      const path = { project_id: project };
      const made = await need(api.POST("/api/projects/{project_id}/scenes", { params: { path }, body }));
      void cache.invalidateQueries({ queryKey: ["projects"] });
      void go(`/scene/${made.scene.id}`);
    } catch (error) {
      setFault((error as Error).message);
    }
  };

  return (
    <Box bg="panel" borderRadius="14px" borderWidth="1px" borderColor="edge" p="4" mb="5" data-testid="new-scene">
      <Flex gap="3" flexWrap="wrap">
        {PURPOSES.map((purpose) => (
          <chakra.button
            key={purpose.name}
            type="button"
            onClick={() => void make(purpose.name, purpose.width, purpose.height, purpose.seconds, purpose.background)}
            width="150px"
            p="3"
            borderRadius="12px"
            borderWidth="1px"
            borderColor="edge"
            bg="well"
            textAlign="left"
            cursor="pointer"
            _hover={{ borderColor: "act" }}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          >
            <Flex height="46px" align="center" mb="2">
              <Box
                borderWidth="1.5px"
                borderColor="act"
                borderRadius="3px"
                bg="actWash"
                width={`${Math.round((purpose.width / Math.max(purpose.width, purpose.height * 1.6)) * 74)}px`}
                css={{ aspectRatio: `${purpose.width} / ${purpose.height}` }}
              />
            </Flex>
            <Text fontWeight={700}>{purpose.name}</Text>
            <Text color="quiet" fontSize="row">
              {purpose.width} × {purpose.height}
            </Text>
            <Text color="quiet" fontSize="row">
              {purpose.note}
            </Text>
          </chakra.button>
        ))}
      </Flex>
      <Flex
        as="form"
        align="center"
        gap="2"
        mt="4"
        flexWrap="wrap"
        onSubmit={(event) => {
          event.preventDefault();
          void make("Scene", Number(size[0]), Number(size[1]), Number(seconds), "#00000000");
        }}
      >
        <Text fontWeight={600}>By numbers</Text>
        <Field label="Width" value={size[0]} set={(value) => setSize([value, size[1]])} />
        <Text>×</Text>
        <Field label="Height" value={size[1]} set={(value) => setSize([size[0], value])} />
        <Text>px, at</Text>
        <Select label="Frames a second" value={rate} options={RATES} onChange={setRate} width="84px" />
        <Text>fps, for</Text>
        <Field label="Seconds" value={seconds} set={setSeconds} />
        <Text>seconds</Text>
        <Pill type="submit" look="act">
          Create scene
        </Pill>
      </Flex>
      {fault && (
        <Text role="alert" mt="2" color="findingInk">
          {fault}
        </Text>
      )}
    </Box>
  );
}

function Field({ label, value, set }: { label: string; value: string; set: (value: string) => void }) {
  return (
    <TextInput
      aria-label={label}
      inputMode="decimal"
      value={value}
      onChange={(event) => set(event.target.value)}
      width="68px"
    />
  );
}
