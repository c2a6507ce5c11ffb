/**
 * How large the tiles of a lane are: full; small in side rows; low, with the words beside the picture, where many
 * lanes shall be seen at once.
 */
export type TileSize = "full" | "small" | "low";

export const tileFrame: Record<TileSize, string> = {
  full: "w-[104px]",
  small: "w-[72px]",
  low: "flex w-[152px] items-center gap-1.5",
};

export const tilePicture: Record<TileSize, string> = {
  full: "h-[56px] w-full",
  small: "h-[36px] w-full",
  low: "h-[34px] w-[46px] shrink-0",
};

/** Height of what lies between two tiles and takes new steps. */
export const gapHeight: Record<TileSize, string> = { full: "h-[96px]", small: "h-[64px]", low: "h-[38px]" };
