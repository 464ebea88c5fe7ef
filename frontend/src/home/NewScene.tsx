import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, need } from "../api/client";
import { RATES } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";

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

/** A new scene by purpose, by numbers, or as a starter. */
export function NewScene({ project }: { project: string }) {
  const go = useNavigate();
  const cache = useQueryClient();
  const [rate, setRate] = useState("30/1");
  const [size, setSize] = useState(["1920", "1080"]);
  const [seconds, setSeconds] = useState("5");
  const [fault, setFault] = useState("");

  const begun = (scene: string, form?: number) => {
    void cache.invalidateQueries({ queryKey: ["projects"] });
    // Of a starter what is there to be filled is open, in the middle of its time, where all of it stands.
    void go(`/scene/${scene}${form === undefined ? "" : `?slots&frame=${form}`}`);
  };
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
      begun(made.scene.id!);
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
      <Starters project={project} begun={begun} fail={setFault} />
      {fault && (
        <Text role="alert" mt="2" color="findingInk">
          {fault}
        </Text>
      )}
    </Box>
  );
}

interface StartersProps {
  project: string;
  begun: (scene: string, form?: number) => void;
  fail: (fault: string) => void;
}

/** Scenes to start from: those that ship, and those that the project keeps. */
function Starters({ project, begun, fail }: StartersProps) {
  const cache = useQueryClient();
  const path = { project_id: project };
  const key = ["starters", project];
  const { data = [] } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/starters", { params: { path } })),
  });
  const begin = async (starter: string, own: boolean) => {
    try {
      const made = await need(
        api.POST("/api/projects/{project_id}/starters/begin", { params: { path }, body: { starter, own } }),
      );
      begun(made.scene.id!, made.scene.slots?.length ? Math.floor(made.scene.length / 2) : undefined);
    } catch (error) {
      fail((error as Error).message);
    }
  };
  const drop = async (name: string) => {
    const params = { path: { ...path, name } };
    cache.setQueryData(key, await need(api.DELETE("/api/projects/{project_id}/starters/{name}", { params })));
  };
  return (
    <Flex align="center" gap="2" mt="3" flexWrap="wrap" role="group" aria-label="Starters">
      <Text fontWeight={600}>As a starter</Text>
      {data.map(({ name, own, width, height, layers }) => (
        <Flex key={`${own} ${name}`} align="center">
          <Pill
            title={`${width} × ${height} px${layers.length ? `; its texts: ${layers.join(", ")}` : ""}`}
            onClick={() => void begin(name, own)}
          >
            {name}
          </Pill>
          {own && (
            <Pill look="bare" label={`Keep the starter ${name} no longer`} onClick={() => void drop(name)}>
              <X size={13} />
            </Pill>
          )}
        </Flex>
      ))}
    </Flex>
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
