import {
  albedoOf,
  formOf,
  layerOf,
  lightOf,
  lookOf,
  viewOf,
  type AlbedoHead,
  type FormHead,
  type LightHead,
  type Subject,
  type ViewHead,
  type ViewportLook,
} from "./assets";
import type { Parts } from "./parts";
import type { Scene } from "./Scene";
import type { WornLook } from "./WornLook";

/** What is drawn: a look, on a form, under a light, by a view. */
export interface Filled {
  subject: Subject;
  form: string;
  light: string;
  view: string;
}

/** What a scene needs for that, on this side of the wire; maps come when they are put. */
export interface Brought {
  look: ViewportLook & { source: string };
  form: Parts<FormHead>;
  light: Parts<LightHead>;
  view: Parts<ViewHead>;
  albedo: Parts<AlbedoHead>;
}

/** Gives a scene what it draws. What it has is neither asked for nor uploaded again. */
export class Filling {
  /** Structure of the look that the scene has; null for none. */
  private structure: string | null = null;
  private maps = "";
  private readonly given = new Map<string, unknown>();
  /** Working space of what it has. */
  working = "acescg";

  private readonly look: WornLook;

  constructor(readonly scene: Scene) {
    this.look = scene.newLook();
  }

  /** Whether the scene has a look's maps, if only those of the look before. */
  get hasMaps() {
    return this.maps !== "";
  }

  async bring({ subject, form, light, view }: Filled, signal: AbortSignal): Promise<Brought> {
    const look = await lookOf(subject, this.structure, signal);
    const [shape, lit, table, albedo] = await Promise.all([
      formOf(form, subject, look.moved ?? null),
      lightOf(light, look.working),
      viewOf(view, look.working),
      albedoOf(look.distribution),
    ]);
    return { look, form: shape, light: lit, view: table, albedo };
  }

  /**
   * @param small Maps as small as what stands in for them.
   * @returns Whether it was put; not where it was given up meanwhile.
   */
  async put({ look, form, light, view, albedo }: Brought, small: boolean, signal: AbortSignal): Promise<boolean> {
    const { scene } = this;
    const layers = await this.layersOf(look, small);
    if (signal.aborted) return false;
    this.once("form", form, () => scene.setForm(form));
    this.once("view", view, () => scene.setView(view));
    this.once("albedo", albedo, () => scene.setAlbedo(albedo));
    await this.look.set(look, layers, small, light.head.suns.length > 0);
    if (this.structure === null) scene.wear([{ look: this.look, range: null }]);
    // The shader for a light is there before the light.
    this.once("light", light, () => scene.setLight(light));
    this.structure = look.structure;
    this.working = look.working;
    if (!small) this.maps = JSON.stringify(look.maps);
    return !signal.aborted;
  }

  /** The maps of a look; none where the scene has them already. */
  private async layersOf(look: ViewportLook, small: boolean): Promise<ArrayBuffer[][]> {
    if (JSON.stringify(look.maps) === this.maps) return [];
    return Promise.all(
      look.maps.map((array, a) => Promise.all(array.layers.map((_, l) => layerOf(look, a, l, small)))),
    );
  }

  private once(name: string, what: unknown, put: () => void) {
    if (this.given.get(name) === what) return;
    put();
    this.given.set(name, what);
  }
}
