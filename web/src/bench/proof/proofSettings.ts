/** How a proof is looked at; everything but the surface itself. */
export interface ProofSettings {
  form: string;
  light: string;
  /** Degrees; null for the form's usual camera. */
  yaw: number | null;
  pitch: number | null;
  zoom: number;
  lightRotation: number;
  exposure: number;
  view: string;
  clipping: boolean;
  /** A part of the picture looked at alone; null for the whole. */
  layer: string | null;
  /** Takes noise out, for the eye only. */
  denoise: boolean;
  /** Whether the light is seen out of focus behind the form. */
  blurredBackground: boolean;
  /** Refined until the noise is below this share, or as far as the panel goes. */
  untilNoise: number;
  /** Left, top, right, bottom of the part that is refined alone, in shares of the picture; null for the whole. */
  part: number[] | null;
  /** The UDIM tile shown everywhere; null for all in turn. */
  tile: number | null;
}

export const usualProof: ProofSettings = {
  form: "vessel",
  light: "softbox",
  yaw: null,
  pitch: null,
  zoom: 1,
  lightRotation: 0,
  exposure: 0,
  view: "aces1-sdr",
  clipping: false,
  layer: null,
  denoise: false,
  blurredBackground: false,
  untilNoise: 0.04,
  part: null,
  tile: null,
};

const usualYaw: Record<string, number> = { tile: 24, cloth: 24, chart: 0 };
const usualPitch: Record<string, number> = { tile: 46, sphere: 12, cloth: 24, chart: 0 };

export const yawOf = (p: ProofSettings) => p.yaw ?? usualYaw[p.form] ?? 28;
export const pitchOf = (p: ProofSettings) => p.pitch ?? usualPitch[p.form] ?? 18;

/** The camera turned by so many degrees; it never goes under the ground or over the top. */
export const turned = (p: ProofSettings, yaw: number, pitch: number): Partial<ProofSettings> => ({
  yaw,
  pitch: Math.min(88, Math.max(-5, pitch)),
  zoom: p.zoom,
  part: null,
});
export const zoomed = (p: ProofSettings, factor: number): Partial<ProofSettings> => ({
  zoom: Math.min(12, Math.max(0.5, p.zoom * factor)),
  part: null,
});

/** Where the camera stands, as shares of the distance at which the whole form is seen. */
const cameras: Record<string, number> = { far: 0.6, middle: 1, near: 2.2 };
export const cameraNames = [...Object.keys(cameras), "free"];
export const cameraOf = (p: ProofSettings) =>
  (p.yaw === null && p.pitch === null && Object.keys(cameras).find((c) => cameras[c] === p.zoom)) || "free";
/** A fixed camera; free keeps the picture as it is. */
export const seenFrom = (camera: string): Partial<ProofSettings> =>
  camera in cameras ? { yaw: null, pitch: null, zoom: cameras[camera], part: null } : {};

/**
 * Where refining ends even if noise is left, so that a hard surface does not keep the processors for ever: noise
 * falls with the root of the samples.
 */
export const mostSamples = (p: ProofSettings) => Math.min(4096, Math.round(192 * (0.04 / p.untilNoise) ** 2));
