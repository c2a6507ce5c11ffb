import { Away } from "../../api/client";
import { shadersOf } from "../../viewport/assets";
import { drawnMean } from "../../viewport/drawnMean";
import { Filling, type Filled } from "../../viewport/Filling";
import type { Sight } from "../../viewport/Scene";
import type { DrawnLight } from "../../viewport/textures";

/** A cell that waits to be drawn. */
export interface DrawnCell {
  /** Row and column: what one asks its numbers by. */
  name: string;
  filled: Filled;
  sight: Sight;
  side: number;
  to: HTMLCanvasElement;
  onDrawn: () => void;
}

/** Each pixel is drawn at so many places in each direction: nobody waits for the next frame here. */
const fineness = 2;

/** Milliseconds until a server that did not answer is asked again. */
const awayFor = 3000;

const lost = "The graphics processor was lost, so proofs are shown.";

/** Draws the cells of a wall one after another with one scene, for a browser has few of them. Cells of one look follow each other. */
export class WallDrawer {
  private readonly waiting: DrawnCell[] = [];
  private readonly lights = new Map<string, { light: DrawnLight; working: string; exposure: number; view: string }>();
  private now: { cell: DrawnCell; abort: AbortController; isWanted: boolean } | null = null;
  private look = "";
  private isOver = false;

  private constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly filling: Filling,
    private readonly onTrouble: (sentence: string) => void,
  ) {
    canvas.addEventListener("webglcontextlost", () => this.fails(lost));
  }

  /** @throws Error with a sentence where nothing can be drawn. */
  static async make(onTrouble: (sentence: string) => void): Promise<WallDrawer> {
    const canvas = document.createElement("canvas");
    const context = canvas.getContext("webgl2", { antialias: false, alpha: false });
    if (!context) throw new Error("No graphics processor was found here, so proofs are shown.");
    const [{ Scene }, texts] = await Promise.all([import("../../viewport/Scene"), shadersOf()]);
    return new WallDrawer(canvas, new Filling(new Scene(canvas, context, texts)), onTrouble);
  }

  /**
   * Draws it as soon as its turn comes. What is being drawn is drawn to its end, so that something follows a slider that does not rest.
   * @returns What gives it up.
   */
  ask(cell: DrawnCell): () => void {
    this.waiting.push(cell);
    if (!this.now) void this.next();
    return () => {
      const at = this.waiting.indexOf(cell);
      if (at >= 0) this.waiting.splice(at, 1);
      else if (this.now?.cell === cell) this.now.isWanted = false;
    };
  }

  /** Light of a place of a cell, the mean of a square; null where it was not drawn. */
  lightAt(name: string, u: number, v: number, share: number) {
    const drawn = this.lights.get(name);
    if (!drawn) return null;
    const [r, g, b] = drawnMean(drawn.light, u, v, share);
    return { r, g, b, working: drawn.working, view: drawn.view, exposure: drawn.exposure };
  }

  dispose() {
    this.isOver = true;
    this.now?.abort.abort();
    this.filling.scene.dispose();
  }

  private async next() {
    for (;;) {
      // Those of the look that is there come first.
      const own = this.waiting.findIndex((c) => JSON.stringify(c.filled.subject) === this.look);
      const cell = this.waiting.splice(Math.max(0, own), 1).at(0);
      if (!cell || this.isOver) break;
      const abort = new AbortController();
      const now = (this.now = { cell, abort, isWanted: true });
      try {
        await this.draw(cell, abort.signal);
      } catch (error) {
        if (error instanceof Away && !abort.signal.aborted) {
          await new Promise((resolve) => window.setTimeout(resolve, awayFor));
          if (now.isWanted) this.waiting.push(cell);
        } else if (!abort.signal.aborted) this.fails((error as Error).message);
      }
    }
    this.now = null;
  }

  private async draw(cell: DrawnCell, signal: AbortSignal) {
    const { filling, canvas } = this;
    const { scene } = filling;
    this.look = JSON.stringify(cell.filled.subject);
    const brought = await filling.bring(cell.filled, signal);
    if (!(await filling.put(brought, false, signal))) return;
    scene.resize(cell.side, cell.side, fineness);
    if (!scene.draw(cell.sight)) throw new Error("The viewport could not draw this look, so proofs are shown.");
    cell.to.width = cell.to.height = cell.side;
    cell.to.getContext("2d")!.drawImage(canvas, 0, 0);
    this.lights.set(cell.name, {
      light: scene.drawn(),
      working: filling.working,
      view: cell.filled.view,
      exposure: cell.sight.exposure,
    });
    cell.onDrawn();
  }

  private fails(sentence: string) {
    if (this.isOver) return;
    this.isOver = true;
    this.onTrouble(sentence);
  }
}
