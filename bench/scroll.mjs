// Script and layout time per frame while the sorting table of a whole library scrolls. Needs a running server with demo people,
// and the path of an analysed delivery: node bench/scroll.mjs http://127.0.0.1:5210 /intake/ID
import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
const [origin, path] = process.argv.slice(2);
const port = 9900, profile = `/tmp/kiln-scroll-${process.pid}`;
const driver = spawn("chromedriver", [`--port=${port}`], { stdio: "ignore" });
const call = async (method, at, body) => {
  const answer = await (await fetch(`http://127.0.0.1:${port}${at}`, { method, body: body && JSON.stringify(body) })).json();
  if (answer.value?.error) throw new Error(answer.value.message);
  return answer.value;
};
const pause = (ms) => new Promise((r) => setTimeout(r, ms));
for (let i = 0; i < 50; i++) if (await call("GET", "/status").then(() => true, () => pause(100).then(() => false))) break;
const args = ["--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync", `--user-data-dir=${profile}`, "--window-size=1280,943"];
const { sessionId } = await call("POST", "/session", { capabilities: { alwaysMatch: { "goog:chromeOptions": { args } } } });
const session = `/session/${sessionId}`;
const run = (script, ...a) => call("POST", `${session}/execute/sync`, { script, args: a });
const cdp = (cmd, params = {}) => call("POST", `${session}/goog/cdp/execute`, { cmd, params });
const metrics = async () => Object.fromEntries((await cdp("Performance.getMetrics")).metrics.map((m) => [m.name, m.value]));
try {
  await call("POST", `${session}/timeouts`, { script: 120000 });
  await call("POST", `${session}/url`, { url: origin });
  await pause(800);
  await run(`const s = await (await fetch("/api/v1/session")).json(); await fetch("/api/v1/session", { method: "POST", headers: { "Content-Type": "application/json", "X-Kiln-Token": s.token }, body: JSON.stringify({ name: "noor", password: "noor-kiln" }) });`);
  await call("POST", `${session}/url`, { url: origin + path });
  await pause(5000);
  await cdp("Performance.enable");
  const scroll = `const done = arguments[0]; const box = document.querySelector("[data-testid=sorting]"); let frames = 0; const step = () => { box.scrollTop += 60; if (++frames < 400) requestAnimationFrame(step); else done([frames, box.scrollTop, document.querySelectorAll("tbody tr[data-index]").length]); }; requestAnimationFrame(step);`;
  // Once to load the pictures that come by, once measured.
  await call("POST", `${session}/execute/async`, { script: scroll, args: [] });
  await run(`document.querySelector("[data-testid=sorting]").scrollTop = 0`);
  await pause(1500);
  const before = await metrics();
  const [frames, reached, rows] = await call("POST", `${session}/execute/async`, { script: scroll, args: [] });
  const after = await metrics();
  const per = (name) => (((after[name] - before[name]) / frames) * 1000).toFixed(2);
  const surfaces = await run(`return document.querySelector("table[aria-rowcount]").ariaRowCount - 1`);
  console.log(`${surfaces} surfaces, ${rows} rows in the page, ${frames} frames to ${Math.round(reached)} px: script ${per("ScriptDuration")} ms, layout ${per("LayoutDuration")} ms, style ${per("RecalcStyleDuration")} ms a frame`);
} finally {
  await call("DELETE", session).catch(() => undefined);
  driver.kill();
  rmSync(profile, { recursive: true, force: true });
}
