"""How far the viewport is from the proof: mean ΔE2000 over the form, for every look of the demo under three lights.

usage: [SETTLED=PATHS] [SIDE=128] [SAMPLES=512] [LIGHTS=A,B] viewport.py [ADDRESS] [LOOK…]   A server with fresh demo data (./start). The browser draws on its software GL, each pixel at nine places, as the viewport does where frames are quick; proofs have so many SAMPLES. Prints a table for docs/viewport.md: while moving, and with SETTLED after so many paths of every pixel, too.
"""
import base64, os, sys

from chromium import Page
from pictures import delta, lab, png

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
only = sys.argv[2:]
SIDE, SAMPLES, PATHS = (int(os.environ.get(name, usual)) for name, usual in (("SIDE", 128), ("SAMPLES", 512), ("SETTLED", 0)))
LIGHTS = os.environ.get("LIGHTS", "overcast,softbox,lowsun").split(",")


# A picture for a file: as many samples as are asked for, which pictures on the page are not.
PROOF = """
const { token } = await (await fetch('/api/v1/session')).json();
const headers = { 'Content-Type': 'application/json', 'X-Kiln-Token': token };
const ordered = await fetch(`/api/v1/looks/${arguments[0]}/proof-files`, { method: 'POST', headers, body: JSON.stringify(arguments[1]) });
if (!ordered.ok) throw Error(await ordered.text());
const { id } = await ordered.json();
for (;;) {
  const order = (await (await fetch('/api/v1/proof-files')).json()).find(o => o.id === id);
  if (order.state === 'done') break;
  if (order.state === 'failed') throw Error(order.message);
  await new Promise(r => setTimeout(r, 300));
}
const picture = new Uint8Array(await (await fetch(`/api/v1/proof-files/${id}/file`)).arrayBuffer());
await fetch(`/api/v1/proof-files/${id}`, { method: 'DELETE', headers });
return btoa(Array.from(picture, b => String.fromCharCode(b)).join(''));"""

page = Page(base, 9789, proves=False)
try:
    page.sign_in()
    print("| look | " + " | ".join(LIGHTS) + " |\n|---|" + "---|" * len(LIGHTS))
    worst = [0, 0]
    for look in page.looks(only):
        cells = []
        page.proves(True)
        page.go("/")
        proofs = [page.run(PROOF, look["id"], {"light": light, "width": SIDE, "height": SIDE, "samples": SAMPLES, "format": "png"}) for light in LIGHTS]
        page.proves(False)
        page.go(f"/looks/{look['id']}")
        page.click("[data-testid=tab-view]")
        for light, proof in zip(LIGHTS, proofs):
            page.click(f"[data-testid=proof-light] [data-value={light}]")
            shots = page.run(
                """
                const canvas = document.querySelector('canvas');
                const wanted = arguments[0];
                const bytes = await (await fetch(`/api/v1/viewport/lights/${wanted}?working=acescg`)).arrayBuffer();
                const head = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, new DataView(bytes).getUint32(0, true)))).head;
                const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);
                // The scene has the light asked for, and its maps in full.
                for (let i = 0; i < 900; i++) {
                  const s = canvas.kilnScene;
                  if (s?.frames > 0 && s.lit && same(s.lit.floorRadiance, head.floorRadiance) && s.maps.every(m => m.image.width > 64)) break;
                  await new Promise(r => setTimeout(r, 200));
                }
                const s = canvas.kilnScene;
                s.resize(arguments[1], arguments[1], 3);
                const shot = () => { s.redraw(); return canvas.toDataURL('image/png').split(',')[1]; };
                const whole = shot();
                s.background.visible = s.floor.visible = false;
                const form = shot();
                s.background.visible = s.floor.visible = true;
                if (arguments[2] === 0) return [whole, form];
                s.redraw();
                await s.prepareSettling();
                // The page may have drawn meanwhile, at its own size, at which so many paths take a quarter of an hour.
                s.resize(arguments[1], arguments[1], 3);
                s.redraw();
                for (let i = 0; i < arguments[2]; i++) if (s.settle() !== i + 1) throw Error('no path is added');
                return [whole, form, canvas.toDataURL('image/png').split(',')[1]];""",
                light, SIDE, PATHS)
            one, form, *drawn = (png(base64.b64decode(p)) for p in (proof, shots[1], shots[0], *shots[2:]))
            for i, two in enumerate(drawn):
                found = [delta(lab(one[y][x]), lab(two[y][x])) for y in range(SIDE) for x in range(SIDE) if max(form[y][x]) > 0]
                worst[i] = max(worst[i], sum(found) / len(found))
                drawn[i] = f"{sum(found) / len(found):.2f}"
            cells.append(", ".join(drawn))
            if os.environ.get("PICTURES"):
                for name, data in (("proof", proof), ("moving", shots[0]), *([("settled", shots[2])] if PATHS else [])):
                    open(os.path.join(os.environ["PICTURES"], f"{look['name']} {light} {name}.png"), "wb").write(base64.b64decode(data))
        print(f"| {look['name']} | " + " | ".join(cells) + " |", flush=True)
    print(f"\nGreatest mean while moving {worst[0]:.2f}" + (f", settled {worst[1]:.2f}" if PATHS else ""))
finally:
    page.close()
