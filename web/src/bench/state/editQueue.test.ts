import { beforeAll, describe, expect, it, vi } from "vitest";
import type { LookEdit, LookInfo } from "../../api/types";
import { someInfo, someLook, someSteps } from "../../testing/looks";
import { applyEdit } from "../document/applyEdit";
import { EditQueue, type Act } from "./editQueue";

beforeAll(someSteps);

const gloss = (number: number): LookEdit => ({ edit: "value", lane: "coat_weight", value: { kind: "scalar", number } });

/** A server that does what it is asked when it is let. */
function server() {
  let document = someLook();
  const asked: { revision: number; answer: (refuses?: Error) => void }[] = [];
  const act = (edit: LookEdit, refused: Act["refused"] = () => undefined): Act => ({
    edit,
    refused,
    send: (revision) =>
      new Promise<LookInfo>((resolve, reject) =>
        asked.push({
          revision,
          answer: (error) => {
            if (error) return reject(error);
            document = applyEdit(document, edit)!;
            resolve(someInfo(revision + 1, document));
          },
        }),
      ),
  });
  return { asked, act };
}

const coat = (queue: EditQueue) => queue.drawn().look.lanes!.coat_weight?.value;
const settled = () => new Promise((done) => setTimeout(done));

describe("the queue of edits", () => {
  it("draws at once and sends one after another, each on the revision before", async () => {
    const { asked, act } = server();
    const queue = new EditQueue(someInfo(7));
    void queue.push(act(gloss(0.2)));
    void queue.push(act(gloss(0.4)));
    expect(coat(queue)).toMatchObject({ number: 0.4 });
    expect(queue.drawn()).toMatchObject({ waiting: 2, info: { revision: 7 } });
    await settled();
    expect(asked.map((a) => a.revision)).toEqual([7]);
    asked[0].answer();
    await settled();
    expect(asked.map((a) => a.revision)).toEqual([7, 8]);
    expect(coat(queue)).toMatchObject({ number: 0.4 });
    asked[1].answer();
    await settled();
    expect(queue.drawn()).toMatchObject({ waiting: 0, info: { revision: 9 } });
  });

  it("takes back what is refused, says so, and goes on", async () => {
    const { asked, act } = server();
    const refused = vi.fn();
    const queue = new EditQueue(someInfo(1));
    void queue.push(act(gloss(5), refused));
    void queue.push(act({ edit: "tags", tags: ["wet"] }));
    await settled();
    asked[0].answer(new Error("A coat weighs at most 1."));
    await settled();
    expect(refused).toHaveBeenCalledWith(new Error("A coat weighs at most 1."));
    expect(coat(queue)).toBeUndefined();
    expect(queue.drawn().look.tags).toEqual(["wet"]);
    asked[1].answer();
    await settled();
    expect(queue.drawn().waiting).toBe(0);
  });

  it("keeps its edits over what others have done", async () => {
    const { act } = server();
    const queue = new EditQueue(someInfo(3));
    void queue.push(act(gloss(0.3)));
    const theirs = applyEdit(someLook(), { edit: "tags", tags: ["theirs"] })!;
    queue.receive(someInfo(4, theirs));
    expect(queue.drawn().look.tags).toEqual(["theirs"]);
    expect(coat(queue)).toMatchObject({ number: 0.3 });
    await settled();
  });

  it("takes no older state for a newer one", () => {
    const queue = new EditQueue(someInfo(5));
    queue.receive(someInfo(4, applyEdit(someLook(), { edit: "tags", tags: ["old"] })!));
    expect(queue.drawn().look.tags).toBeUndefined();
  });

  it("tells whoever listens, until they leave", () => {
    const { act } = server();
    const queue = new EditQueue(someInfo(1));
    const told = vi.fn();
    const leave = queue.subscribe(told);
    void queue.push(act(gloss(1)));
    expect(told).toHaveBeenCalledTimes(1);
    leave();
    void queue.push(act(gloss(0)));
    expect(told).toHaveBeenCalledTimes(1);
  });
});
