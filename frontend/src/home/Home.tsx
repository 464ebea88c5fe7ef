import { Heading } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, HardDriveDownload, Pencil, Plus, Trash2, Upload } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { api, need, Offline, type ProjectCard, type RemovedItem, type SceneCard } from "../api/client";
import { Message } from "../fields/Message";
import { type Act, FloatMenu } from "../parts/FloatMenu";
import { NightSwitch } from "../parts/NightSwitch";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Grid, Text } from "../parts/styled";
import { DraftInput } from "../parts/TextInput";
import { FACTS } from "../session/useScene";
import { say, sayProblem, setPage, settled } from "../state/page";
import { NewScene } from "./NewScene";
import { Card } from "./SceneCard";

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
  const file = useRef<HTMLInputElement>(null);
  const before = useRef(Promise.resolve());
  const waiting = useRef(new Set<string>());
  /** One after another; the same once more before its answer does nothing. */
  const once = (what: string, act: () => Promise<string>) => {
    if (waiting.current.has(what)) return;
    waiting.current.add(what);
    before.current = before.current.then(async () => {
      say(what);
      try {
        const told = await act();
        await renew();
        say(told);
      } catch (fault) {
        sayProblem(fault);
      } finally {
        waiting.current.delete(what);
      }
    });
  };
  const takeIn = (chosen: File) =>
    once(`Opening ${chosen.name}…`, async () => {
      const body = new FormData();
      body.append("file", chosen);
      const { said } = await need(
        api.POST("/api/projects/take-in", { body: body as never, bodySerializer: (form) => form as never }),
      ).catch((fault) => {
        throw new Error(`${chosen.name}: ${(fault as Error).message}`);
      });
      return `${chosen.name} came in as a project: ${said.length} scenes.`;
    });
  const backUp = () => once("Backing everything up…", async () => (await need(api.POST("/api/backup"))).said);
  const actsOf = (scene: SceneCard, project: ProjectCard): Act[][] => {
    const path = { scene_id: scene.id };
    const copy = (name: string) =>
      once(`Copying ${scene.name}…`, async () => {
        const made = await need(api.POST("/api/scenes/{scene_id}/duplicate", { params: { path, query: { name } } }));
        return `${scene.name} was duplicated as ${made.scene.name}.`;
      });
    const bring = (other: ProjectCard, move: boolean) =>
      once(`Bringing ${scene.name} to ${other.name}…`, async () => {
        const query = { project: other.id, move };
        await need(api.POST("/api/scenes/{scene_id}/bring-to", { params: { path, query } }));
        return `${scene.name} is in ${other.name}${move ? " now; it can be brought back below" : ", too"}.`;
      });
    const keep = () =>
      once("Keeping it…", async () => {
        const params = { path: { project_id: project.id }, query: { scene: scene.id } };
        await need(api.PUT("/api/projects/{project_id}/starters", { params }));
        await cache.invalidateQueries({ queryKey: ["starters"] });
        return `${scene.name} is a starter of ${project.name}: see New scene.`;
      });
    const others = (projects ?? []).filter(({ id }) => id !== project.id).slice(0, 8);
    return [
      [
        ["Duplicate", () => copy(scene.name)],
        ["Duplicate as another version", () => copy(`${scene.name}, version 2`)],
        ["Keep as a starter", keep],
      ],
      ...(others.length ? [others.map((other): Act => [`Copy to ${other.name}`, () => bring(other, false)])] : []),
      ...(others.length ? [others.map((other): Act => [`Move to ${other.name}`, () => bring(other, true)])] : []),
    ];
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
          <Pill onClick={() => void backUp()}>
            <HardDriveDownload size={14} /> Back up
          </Pill>
          <Pill onClick={() => file.current!.click()}>
            <Upload size={14} /> Open a file…
          </Pill>
          <chakra.input
            ref={file}
            type="file"
            accept=".zip,application/zip"
            display="none"
            data-testid="project-file"
            onChange={(event) => {
              const [chosen] = event.target.files ?? [];
              event.target.value = "";
              if (chosen) takeIn(chosen);
            }}
          />
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
            actsOf={(scene) => actsOf(scene, project)}
          />
        ))}
        <Removed bringBack={(item) => void setRemoved(item, false)} />
      </Box>
      <Message undo={last ? () => void last() : undefined} />
      <FloatMenu />
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
  actsOf: (scene: SceneCard) => Act[][];
}

function Project({ project, rename, remove, recover, actsOf }: ProjectProps) {
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
        <chakra.a
          href={`/api/projects/${project.id}/file`}
          download
          aria-label={`Save ${project.name} as a file`}
          title="Save as a file"
          alignSelf="center"
          color="ink"
          p="1"
        >
          <Download size={14} />
        </chakra.a>
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
            acts={actsOf(scene)}
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
