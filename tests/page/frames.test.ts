import { FrameStore } from "../../frontend/src/document/frames";

// Messages are JSON here, and answered when the test says so.
vi.mock("../../frontend/src/api/arrays", () => ({
  unpack: (buffer: ArrayBuffer) => JSON.parse(new TextDecoder().decode(buffer)),
}));

interface Asked {
  url: URL;
  answer(layers: Record<string, unknown>, order: string[], ok?: boolean): Promise<void>;
}

let asked: Asked[] = [];
const settled = () => new Promise((go) => setTimeout(go, 0));

beforeEach(() => {
  asked = [];
  vi.stubGlobal("window", globalThis);
  vi.stubGlobal("fetch", (address: string) => {
    const url = new URL(address, "http://page");
    return new Promise((resolve) => {
      asked.push({
        url,
        answer: async (layers, order, ok = true) => {
          const body = new TextEncoder().encode(JSON.stringify({ layers, order, outlines: {} }));
          resolve({ ok, status: ok ? 200 : 503, arrayBuffer: async () => body.buffer });
          await settled();
          await settled();
        },
      });
    });
  });
});

afterEach(() => vi.unstubAllGlobals());

const layer = (mark: string) => ({ from: 0, to: 240, mark });
const marks = (store: FrameStore) => store.order.map((id) => (store.layer(id) as never as { mark: string })?.mark);

async function opened(length = 600) {
  const store = new FrameStore("s");
  const opening = store.open(length, 0);
  await asked[0].answer({ a: layer("a1"), b: layer("b1") }, ["a", "b"]);
  await opening;
  return store;
}

test("a refresh asks for what changed, keeps the rest, and lets go of what is gone", async () => {
  const store = await opened();
  const done = store.refresh(600, ["a"]);
  expect(asked[1].url.searchParams.get("layers")).toBe("a");
  await asked[1].answer({ a: layer("a2") }, ["a"]);
  await done;
  expect(marks(store)).toEqual(["a2"]);
  expect(store.layer("b")).toBeUndefined();
});

test("of two refreshes at once the later one counts, with what the earlier one had changed", async () => {
  const store = await opened();
  const [first, second] = [store.refresh(600, ["a"]), store.refresh(600, ["b"])];
  const [, one, other] = asked;
  await other.answer({ a: layer("a2"), b: layer("b2") }, ["a", "b"]);
  await one.answer({ a: layer("old") }, ["a", "b"]);
  await Promise.all([first, second]);
  expect(other.url.searchParams.get("layers")?.split(",").sort()).toEqual(["a", "b"]);
  expect(marks(store)).toEqual(["a2", "b2"]);
});

test("a piece that was asked for before a refresh is not kept after it", async () => {
  const store = await opened();
  void store.ensure(300);
  const late = asked[1];
  const done = store.refresh(600, null);
  await asked[2].answer({ a: layer("a2"), b: layer("b2") }, ["a", "b"]);
  await done;
  await late.answer({ a: layer("stale") }, ["a", "b"]);
  expect(store.layer("a", 300)).toBeUndefined();
});

test("a piece that failed is told, and asked for again when it is wanted, not at once", async () => {
  vi.useFakeTimers({ toFake: ["setTimeout"] });
  const store = new FrameStore("s");
  store.length = 600;
  const told: number[][] = [];
  store.lost = (...lost) => told.push(lost);
  void store.ensure(10);
  const answered = asked[0].answer({}, [], false);
  await vi.advanceTimersByTimeAsync(500);
  await answered;
  expect(told).toEqual([[0, 240, 503]]);
  void store.ensure(10);
  expect(asked).toHaveLength(1);
  await vi.advanceTimersByTimeAsync(1_000);
  void store.ensure(10);
  expect(asked).toHaveLength(2);
  vi.useRealTimers();
});

test("what is tried is shown in its frames alone, and its places are told", async () => {
  const store = await opened();
  store.setTrial({ order: ["a", "b"], layers: { b: { from: 0, to: 10, mark: "tried" } } } as never);
  expect(marks(store)).toEqual(["a1", "tried"]);
  expect(store.tried).toEqual([1, 1]);
  expect((store.layer("b", 10) as never as { mark: string }).mark).toBe("b1");
  store.endTrial();
  expect(marks(store)).toEqual(["a1", "b1"]);
});

const brought = (layers: Record<string, unknown>, order = ["a", "b"], from = 0, to = 240) =>
  Buffer.from(JSON.stringify({ layers, order, outlines: {}, from, to })).toString("base64");

test("arrays that came with an answer are taken in, and nothing is fetched", async () => {
  const store = await opened();
  await store.refresh(600, ["a"], () => false, brought({ a: layer("a2") }));
  expect(marks(store)).toEqual(["a2", "b1"]);
  expect(asked).toHaveLength(1);
});

test.each([
  ["of another piece", ["a"], brought({ a: layer("old") }, ["a", "b"], 240, 480)],
  ["without a layer that changed", ["a", "b"], brought({ a: layer("old") })],
  ["after a fetch that failed", ["a"], null],
])("arrays %s are fetched", async (_, changed, given) => {
  const store = await opened();
  const done = store.refresh(600, changed as string[], () => false, given as string | null);
  expect(asked).toHaveLength(2);
  await asked[1].answer({ a: layer("a2"), b: layer("b2") }, ["a", "b"]);
  await done;
  expect(marks(store)).toEqual(["a2", "b2"]);
});

test("what a failed fetch left out comes with the next refresh", async () => {
  const store = await opened();
  const failing = store.refresh(600, ["a"]).catch(() => "failed");
  await asked[1].answer({}, [], false);
  expect(await failing).toBe("failed");
  const done = store.refresh(600, ["b"], () => false, brought({ b: layer("b2") }));
  expect(asked[2].url.searchParams.get("layers")).toBe("a,b");
  await asked[2].answer({ a: layer("a2"), b: layer("b3") }, ["a", "b"]);
  await done;
  expect(marks(store)).toEqual(["a2", "b3"]);
});
