/**
 * How large the tiles of a lane are: full, larger on a large screen; small in side rows; low in compact rows, with the words beside the
 * picture.
 */
export type TileSize = "full" | "small" | "low";

export const tileFrame: Record<TileSize, string> = {
  full: "w-[104px] min-[1800px]:w-[148px]",
  small: "w-[72px]",
  low: "flex w-[152px] items-center gap-1.5",
};

export const tilePicture: Record<TileSize, string> = {
  full: "h-[40px] w-full min-[1800px]:h-[84px]",
  small: "h-[36px] w-full",
  low: "h-[34px] w-[46px] shrink-0",
};

/** Height of what lies between two tiles and takes new steps. */
export const gapHeight: Record<TileSize, string> = {
  full: "h-[78px] min-[1800px]:h-[122px]",
  small: "h-[64px]",
  low: "h-[38px]",
};
