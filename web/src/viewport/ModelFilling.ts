import {
  albedoOf,
  layerOf,
  lightOf,
  modelSceneOf,
  modelShapeOf,
  viewOf,
  type LightHead,
  type ModelHead,
  type ModelScene,
} from "./assets";
import { orderedByLook } from "./ordering";
import type { Parts } from "./parts";
import type { Scene, Worn } from "./Scene";
import type { WornLook } from "./WornLook";

/** What is drawn: a model with the looks on its parts, or one of them, under a light, by a view. */
export interface FilledModel {
  model: string;
  only: string | null;
  light: string;
  view: string;
}

interface Brought {
  scene: ModelScene;
  shape: Parts<ModelHead>;
  light: Parts<LightHead>;
}

/** A look that the scene wears, and which maps it has. */
interface Kept {
  look: WornLook;
  structure: string;
  maps: string;
}

/** Gives a scene the looks of a model. What it has is neither asked for nor uploaded again. */
export class ModelFilling {
  private kept: Kept[] = [];
  private shape: { key: string; parts: Parts<ModelHead> } | null = null;
  private readonly given = new Map<string, unknown>();
  private order = "";
  /** One after another, so that what is older is never put over what is newer. */
  private turn: Promise<boolean> = Promise.resolve(true);

  constructor(private readonly scene: Scene) {}

  /** Whether there is something to see, if only what was there before. */
  get isFilled() {
    return this.kept.length > 0;
  }

  async bring({ model, only, light, view }: FilledModel, signal: AbortSignal): Promise<Brought> {
    const scene = await modelSceneOf(model, only, signal);
    const { working, distribution } = scene.looks[0];
    const [parts, lit, table, albedo] = await Promise.all([
      this.shape?.key === scene.shape ? this.shape.parts : modelShapeOf(model, only, scene.shape, signal),
      lightOf(light, working),
      viewOf(view, working),
      albedoOf(distribution),
    ]);
    if (!signal.aborted) {
      this.once("view", table, () => this.scene.setView(table));
      this.once("albedo", albedo, () => this.scene.setAlbedo(albedo));
    }
    return { scene, shape: parts, light: lit };
  }

  /**
   * @param small Maps as small as what stands in for them, where they are not there.
   * @returns Whether it was put; not where it was given up meanwhile.
   */
  put(brought: Brought, small: boolean, signal: AbortSignal): Promise<boolean> {
    const next = this.turn.then(() => !signal.aborted && this.putNow(brought, small, signal));
    this.turn = next.catch(() => false);
    return next;
  }

  private async putNow({ scene, shape, light }: Brought, small: boolean, signal: AbortSignal): Promise<boolean> {
    const left = [...this.kept];
    const next: Kept[] = [];
    for (const look of scene.looks) {
      const maps = JSON.stringify(look.maps);
      const at = left.findIndex(
        (k) => k.structure === look.structure && (k.maps === maps || k.maps === `small ${maps}`),
      );
      const known = at >= 0 ? left.splice(at, 1)[0] : null;
      const isThere = known?.maps === maps || (small && known !== null);
      const layers = isThere
        ? []
        : await Promise.all(look.maps.map((a, i) => Promise.all(a.layers.map((_, l) => layerOf(look, i, l, small)))));
      if (signal.aborted) return this.keep([...next, ...(known ? [known] : []), ...left]);
      const worn = known?.look ?? this.scene.newLook();
      await worn.set(look, layers, small, light.head.suns.length > 0);
      next.push({ look: worn, structure: look.structure, maps: isThere ? known.maps : small ? `small ${maps}` : maps });
      if (signal.aborted) return this.keep([...next, ...left]);
    }
    this.once("shape", shape, () => this.scene.setForm(shape));
    this.shape = { key: scene.shape, parts: shape };
    this.wear(scene, next);
    this.once("light", light, () => this.scene.setLight(light));
    left.forEach(({ look }) => look.dispose());
    this.kept = next;
    return true;
  }

  /** All that there is stays for the next time: some of it may be seen. */
  private keep(all: Kept[]): false {
    this.kept = all;
    return false;
  }

  private wear({ parts, shape }: ModelScene, looks: Kept[]) {
    const ordered = JSON.stringify([shape, parts]);
    const lookOf = new Map(parts.map((p) => [p.path, p.look]));
    const { indices, ranges } = orderedByLook(
      this.shape!.parts.ints("indices"),
      this.shape!.parts.head.parts,
      lookOf,
      looks.length,
    );
    if (this.order !== ordered) this.scene.setOrder(indices);
    this.order = ordered;
    this.scene.wear(
      looks.map(({ look }, i): Worn => ({ look, range: ranges[i] })).filter(({ range }) => range![1] > range![0]),
    );
  }

  private once(name: string, what: unknown, put: () => void) {
    if (this.given.get(name) === what) return;
    put();
    this.given.set(name, what);
  }
}
