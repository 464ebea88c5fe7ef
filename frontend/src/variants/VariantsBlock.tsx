import { Columns2, Plus, X } from "lucide-react";
import type { Layer } from "../api/client";
import { Block } from "../fields/Block";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { setSceneView, useSceneView } from "../state/sceneView";

/** The versions of a layer's motion: switch between them, see one beside the one in use, keep another. */
export function VariantsBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const compared = useSceneView((state) => state.compare);
  const compare = compared && "layer" in compared ? compared : null;
  const id = layer.id!;
  const names = [layer.variant!, ...(layer.variants ?? []).map((one) => one.name)].sort();
  return (
    <Block
      name="Variants"
      beside={
        <Flex align="center" gap="1.5" wrap="wrap">
          {names.map((name) => {
            const used = name === layer.variant;
            return (
              <Flex key={name} align="center" gap="0.5">
                <Pill
                  height="control"
                  px="2.5"
                  look={used ? "on" : "plain"}
                  aria-pressed={used}
                  disabled={layer.locked}
                  title={used ? "The motion in use" : `Let it move as variant ${name} does`}
                  onClick={() => !used && void session.edit({ edit: "switch_variant", layer: id, name })}
                >
                  {name}
                </Pill>
                {!used && (
                  <>
                    <IconButton
                      label={`Show variant ${name} beside the one in use`}
                      pressed={compare?.name === name}
                      color={compare?.name === name ? "act" : "quiet"}
                      onClick={() =>
                        setSceneView({
                          compare: compare?.name === name && compare.layer === id ? null : { layer: id, name },
                        })
                      }
                    >
                      <Columns2 size={13} />
                    </IconButton>
                    <IconButton
                      label={`Delete variant ${name}`}
                      onClick={() => void session.edit({ edit: "delete_variant", layer: id, name })}
                    >
                      <X size={12} />
                    </IconButton>
                  </>
                )}
              </Flex>
            );
          })}
          <Pill
            height="control"
            px="1.5"
            label="Keep this motion, and go on with a copy"
            disabled={layer.locked}
            onClick={() => void session.edit({ edit: "keep_variant", layer: id, name: null })}
          >
            <Plus size={13} />
          </Pill>
        </Flex>
      }
    />
  );
}
