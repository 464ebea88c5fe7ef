import { useQuery, useQueryClient } from "@tanstack/react-query";
import { AudioLines, Trash2 } from "lucide-react";
import { useState } from "react";
import { useClips } from "../acts/clips";
import { api, need } from "../api/client";
import { ratedBy, rateWords, timecode } from "../geometry/times";
import { toNamedRegion } from "../parts/focus";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSmallFrames } from "../play/smallFrames";
import { facesOf } from "../session/fontFaces";
import { useFontFacts, useProjectFonts } from "../session/projectFonts";
import { useProjectScenes } from "../session/projects";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { sayProblem, sayWith } from "../state/page";
import { CHEQUER } from "../theme/theme";
import { useAdd } from "./useAdd";

const stem = (name: string) => name.replace(/\.\w+$/, "");

/** The media of the project: its other scenes, pictures, clips, sounds and fonts, where they are used; a click adds one as a layer. */
export function MediaDrawer() {
  const session = useSession();
  const { project, revision } = useScene();
  const add = useAdd();
  const facts = useFontFacts();
  const everyClip = useClips();
  const scenes = useProjectScenes().filter(({ id }) => id !== session.sceneId);
  const cache = useQueryClient();
  const path = { project_id: project };
  const { data: everyPicture = [] } = useQuery({
    queryKey: ["pictures", project],
    queryFn: () => need(api.GET("/api/projects/{project_id}/pictures", { params: { path } })),
  });
  const { data: uses = {}, isSuccess: known } = useQuery({
    queryKey: ["uses", project, revision],
    queryFn: () => need(api.GET("/api/projects/{project_id}/uses", { params: { path } })),
    placeholderData: (before) => before,
  });
  const stays = ({ id, removed }: { id: string; removed?: boolean }) => !removed || Boolean(uses[id]?.length);
  const clips = everyClip.filter(stays);
  const pictures = everyPicture.filter(stays);
  const fonts = useProjectFonts().fonts.filter(stays);
  const setRemoved = async (ids: string[], removed: boolean) => {
    try {
      for (const asset of ids)
        await need(
          api.PUT("/api/projects/{project_id}/media/{asset}/removed", {
            params: { path: { ...path, asset }, query: { removed } },
          }),
        );
    } finally {
      for (const name of ["clips", "pictures", "fonts"]) void cache.invalidateQueries({ queryKey: [name, project] });
    }
  };
  /** Take what no scene uses out of the list; the history keeps it. */
  const remove = (some: { id: string; name: string }[]) => {
    const ids = some.map(({ id }) => id);
    const what = some.length > 1 ? `${some.length} files` : some[0].name;
    const bringBack = { button: "Bring back", run: () => void setRemoved(ids, false).catch(sayProblem) };
    setRemoved(ids, true)
      .then(() => {
        sayWith(`Removed ${what} from the media.`, bringBack);
        // The button that was pressed goes with its entry.
        window.setTimeout(() => document.activeElement === document.body && toNamedRegion("[data-testid=drawer]"), 100);
      })
      .catch(sayProblem);
  };
  const unused = known ? [...clips, ...pictures, ...fonts].filter(({ id }) => !uses[id]?.length) : [];
  const removal = (one: { id: string; name: string }) =>
    unused.includes(one as never) ? () => remove([one]) : undefined;
  const used = (id: string) => (uses[id]?.length ? `in ${uses[id].join(", ")}` : "not used");
  return (
    <Flex direction="column" gap="2">
      <Text color="quiet" fontSize="row">
        {pictures.length || clips.length || scenes.length || fonts.length
          ? "Click to add as a layer"
          : "No media yet. Drop pictures, films, sounds or fonts on the stage, or choose them in Add."}
      </Text>
      {unused.length > 1 && (
        <Pill look="bare" height="24px" px="1" onClick={() => remove(unused)}>
          <Trash2 size={13} /> Remove {unused.length} that no scene uses
        </Pill>
      )}
      {scenes.map((one) => (
        <Entry
          key={one.id}
          name={one.name}
          facts={[
            `${one.width} × ${one.height}`,
            `${rateWords(one.frame_rate)} fps`,
            timecode(one.length, ratedBy(one.frame_rate)),
          ]}
          used={used(one.id)}
          fault={one.fault}
          onClick={() => void add({ kind: "scene", asset: one.id } as never, one.name, session.frames.frame)}
        >
          {!one.fault && (
            <img
              src={`/api/scenes/${one.id}/still?frame=${one.poster}&width=320&v=${one.revision}`}
              alt=""
              loading="lazy"
              style={FITTED}
            />
          )}
        </Entry>
      ))}
      {clips.map((clip) => (
        <Entry
          key={clip.id}
          name={clip.name}
          facts={[
            clip.width > 0 && `${clip.width} × ${clip.height}`,
            clip.rate && `${rateWords(clip.rate)} fps`,
            `${clip.length.toFixed(1)} s`,
          ]}
          used={used(clip.id)}
          fault={clip.missing ? "File missing: add the same file again." : ""}
          remove={removal(clip)}
          onClick={() =>
            void add(
              { kind: clip.width ? "clip" : "sound", asset: clip.id } as never,
              stem(clip.name),
              session.frames.frame,
            )
          }
        >
          {clip.width && !clip.missing ? <FilmPicture id={clip.id} count={clip.count} /> : <AudioLines size={28} />}
        </Entry>
      ))}
      {pictures.map((picture) => (
        <Entry
          key={picture.id}
          name={picture.name}
          facts={[`${picture.width} × ${picture.height}`]}
          used={used(picture.id)}
          remove={removal(picture)}
          onClick={() => void add({ kind: "picture", asset: picture.id }, stem(picture.name))}
        >
          <img src={`/api/pictures/${picture.id}/file`} alt="" style={FITTED} />
        </Entry>
      ))}
      {fonts.map((font) => (
        <Entry
          key={font.id}
          name={font.name}
          facts={[font.family, font.weight !== null && `weight ${font.weight}`, font.italic && "italic"]}
          used={used(font.id)}
          fault={font.embeds ? "" : "Its licence bits allow no embedding: it is painted here, and not given out."}
          remove={removal(font)}
          onClick={() =>
            void add(
              {
                kind: "text",
                text: font.family,
                align: "centre",
                font: { family: font.family, weight: font.weight ?? 400, italic: font.italic },
              } as never,
              font.family,
            )
          }
        >
          <Text
            fontSize="22px"
            truncate
            px="2"
            style={{
              fontFamily: facesOf(font.family, facts),
              fontWeight: font.weight ?? 400,
              fontStyle: font.italic ? "italic" : "normal",
            }}
          >
            {font.family}
          </Text>
        </Entry>
      ))}
    </Flex>
  );
}

const FITTED = { display: "block", width: "100%", maxHeight: 110, objectFit: "contain" } as const;

interface EntryProps {
  name: string;
  facts: (string | false | null)[];
  used: string;
  fault?: string;
  onClick: () => void;
  /** Take it out of the list; where it is used it has none. */
  remove?: () => void;
  children: React.ReactNode;
}

function Entry({ name, facts, used, fault, onClick, remove, children }: EntryProps) {
  return (
    <Box position="relative">
      {remove && (
        <Box position="absolute" top="1" right="1" bg="paper" borderRadius="full" opacity="0.9">
          <IconButton label={`Remove ${name} from the media`} onClick={remove}>
            <Trash2 size={13} />
          </IconButton>
        </Box>
      )}
      <chakra.button
        type="button"
        textAlign="left"
        width="100%"
        cursor="pointer"
        onClick={onClick}
        _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      >
        <Flex
          borderRadius="8px"
          overflow="hidden"
          borderWidth="1px"
          borderColor="edge"
          minHeight="44px"
          align="center"
          justify="center"
          css={{ background: CHEQUER }}
        >
          {children}
        </Flex>
        <Text fontSize="row" truncate>
          {name}
        </Text>
        <Text fontSize="caption" color="quiet">
          {facts.filter(Boolean).join(" · ")}
        </Text>
        <Text fontSize="caption" color="quiet" truncate>
          {used}
        </Text>
        {fault && (
          <Box bg="finding" color="findingInk" borderRadius="6px" px="1.5" fontSize="caption">
            {fault}
          </Box>
        )}
      </chakra.button>
    </Box>
  );
}

/** A film in small: a frame of it, others as the pointer goes across. */
function FilmPicture({ id, count }: { id: string; count: number }) {
  const [at, setAt] = useState(Math.floor(count / 2));
  const [source] = useSmallFrames(id, [at], 320);
  return (
    <Box
      width="100%"
      minHeight="60px"
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const part = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 0.999);
        setAt(Math.floor((Math.floor(part * 12) / 12) * count));
      }}
    >
      {source && <img src={source} alt="" style={FITTED} />}
    </Box>
  );
}
