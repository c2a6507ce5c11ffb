/** Class names put together; what does not hold is left out. */
export const classes = (...names: (string | false | null | undefined)[]) => names.filter(Boolean).join(" ");
