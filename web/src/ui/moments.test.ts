import { describe, expect, it } from "vitest";
import { browserWords } from "./moments";

describe("browsers in words", () => {
  it.each([
    [
      "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0.0.0 Safari/537.36",
      "Chromium 126 on Linux",
    ],
    [
      "Mozilla/5.0 (Macintosh; Intel Mac OS X 14_5) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.5 Safari/605.1.15",
      "Safari 17 on macOS",
    ],
    ["Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:127.0) Gecko/20100101 Firefox/127.0", "Firefox 127 on Windows"],
    ["curl/8.8.0", "curl/8.8.0"],
    ["", "no browser named"],
  ])("%s", (said, words) => expect(browserWords(said)).toBe(words));
});
