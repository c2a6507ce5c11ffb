const format = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  year: "numeric",
  hour: "2-digit",
  minute: "2-digit",
});

/** A moment as people say it: 29 Nov 2026, 21:47, in their own time zone. */
export const momentWords = (at: string) => format.format(new Date(at));

const browsers: [RegExp, string][] = [
  [/Firefox\/(\d+)/, "Firefox"],
  [/Edg\/(\d+)/, "Edge"],
  [/Chrome\/(\d+)/, "Chromium"],
  [/Version\/(\d+).*Safari/, "Safari"],
];
const systems: [RegExp, string][] = [
  [/Windows/, "Windows"],
  [/Mac OS X|Macintosh/, "macOS"],
  [/Android/, "Android"],
  [/Linux|X11/, "Linux"],
];

/** What a browser says of itself, in two words; what is not known is shown as it is. */
export function browserWords(said: string): string {
  if (said === "") return "no browser named";
  const browser = browsers.map(([r, name]) => [r.exec(said)?.[1], name]).find(([version]) => version);
  const system = systems.find(([r]) => r.test(said))?.[1];
  return browser ? `${browser[1]} ${browser[0]}${system ? ` on ${system}` : ""}` : said;
}
