"""How soon a step's picture follows its slider, and what the page draws again meanwhile, in a real browser on a running server with the demo data (./start).

usage: preview.py [ADDRESS]   Prints the median and the slowest of the previews at 176 pixels while a slider moves, and of the 2048-pixel picture; the components that one move draws again, and those of the four seconds after it is let go.
"""
import sys, time

from chromium import Page

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
SEND = """
const { token } = await (await fetch('/api/v1/session')).json();
const send = (path, revision, body) => fetch(`/api/v1/looks/${id}/${path}`, { method: 'POST', body: body && JSON.stringify(body),
  headers: { 'Content-Type': 'application/json', 'X-Kiln-Token': token, ...(revision && { 'If-Match': `"${revision}"` }) } });
const revision = async () => (await (await fetch(`/api/v1/looks/${id}`)).json()).revision;
"""
# Counts the components that did work, by the flags that React keeps for its tools: where children are the same objects as before, none of them was drawn.
COUNT = """
const drawn = window.drawn = {};
window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = { supportsFiber: true, isDisabled: false, renderers: new Map(), inject: () => 1, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
  onCommitFiberRoot(_, root) {
    const visit = (fiber) => {
      for (; fiber; fiber = fiber.sibling) {
        if ([0, 1, 11, 14, 15].includes(fiber.tag) && fiber.flags & 1) {
          const type = fiber.type?.render ?? fiber.type?.type ?? fiber.type, name = fiber.type?.displayName ?? type?.displayName ?? type?.name ?? 'without a name';
          drawn[name] = (drawn[name] ?? 0) + 1;
        }
        if (!fiber.alternate || fiber.child !== fiber.alternate.child) visit(fiber.child);
      }
    };
    visit(root.current);
  } };
"""
TAKE = "const all = { ...window.drawn }; for (const n in window.drawn) delete window.drawn[n]; return all;"


def words(drawn, moves=1):
    most = sorted(drawn.items(), key=lambda d: -d[1])[:8]
    return f"{sum(drawn.values()) / moves:.1f}; most: " + ", ".join(f"{name} {count / moves:.1f}" for name, count in most)


page = Page(base, 9788, software=False)
try:
    page.devtools("Page.addScriptToEvaluateOnNewDocument", {"source": COUNT})
    page.sign_in()
    look = page.looks(["verdigris copper pipe"])[0]["id"]
    # A remap after the inversion of the pipe's glossiness, put in for the measurement and taken out after it.
    page.run("const id = arguments[0];" + SEND + "await send('edits', await revision(), { edit: 'stepInsert', lane: 'specular_roughness', at: 1, step: { kind: 'remap', id: 'bench', outLow: 0.2, outHigh: 0.8 } });", look)
    page.go(f"/looks/{look}")
    page.click("[data-lane=specular_roughness] [data-tile=remap]")
    page.find("[data-testid=step-after]")
    time.sleep(25)  # until the proof has refined and leaves the processors alone
    x, y = page.run("const r = document.querySelector('[role=slider][aria-label=\"out high slider\"]').getBoundingClientRect(); performance.clearMeasures(); return [r.x + r.width / 2, r.y + r.height / 2]")
    mouse = lambda kind, at: page.devtools("Input.dispatchMouseEvent", {"type": kind, "x": at, "y": y, "button": "left", "buttons": 1, "clickCount": 1})
    mouse("mousePressed", x)
    mouse("mouseMoved", x - 1)
    time.sleep(1)
    page.run(TAKE)
    for i in range(40):
        mouse("mouseMoved", x - 3 - 2 * i)
        time.sleep(0.09)
    moved = page.run(TAKE)
    times = page.run("return performance.getEntriesByName('kiln-try-step').map(e => e.duration)")
    mouse("mouseReleased", x - 81)
    time.sleep(4)
    after = page.run(TAKE)
    large = page.run("const id = arguments[0];" + SEND + """
      const times = [];
      for (let i = 0; i < 6; i++) {
        const began = performance.now();
        await (await send('try-step', null, { lane: 'specular_roughness', step: { kind: 'remap', id: 'bench', outLow: 0.2, outHigh: 0.5 + 0.02 * i }, size: 2048 })).blob();
        times.push(performance.now() - began);
      }
      return times.slice(1);""", look)
    page.run("const id = arguments[0];" + SEND + "for (let i = 0; i < 2; i++) await send('undo', await revision());", look)
    middle = lambda v: sorted(v)[len(v) // 2]
    print(f"176 px while a slider moves: {len(times)} pictures, median {middle(times):.0f} ms, slowest {max(times):.0f} ms; aim 60")
    print(f"components drawn again by one move: {words(moved, 40)}")
    print(f"in four seconds after it is let go: {words(after)}")
    print(f"2048 px: median {middle(large):.0f} ms, slowest {max(large):.0f} ms; aim 500")
finally:
    page.close()
