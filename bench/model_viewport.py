"""How far the viewport of a model is from its proof: mean ΔE2000 over the model, under every light.

usage: [WIDTH=192] [HEIGHT=160] [SAMPLES=256] [LIGHTS=A,B] model_viewport.py [ADDRESS] [MODEL]   A server with demo data (./start). Looks that parts ask for are put on them first. The browser draws on its software GL, each pixel at nine places; proofs have so many SAMPLES (256 at most), with the noise taken out, and come as JPEG of quality 90. Prints a table for docs/viewport.md.
"""
import base64, os, sys, time

from chromium import Page
from pictures import delta, lab, png

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
name = sys.argv[2] if len(sys.argv) > 2 else "fr2"
WIDTH, HEIGHT, SAMPLES = (int(os.environ.get(n, usual)) for n, usual in (("WIDTH", 192), ("HEIGHT", 160), ("SAMPLES", 256)))
LIGHTS = os.environ.get("LIGHTS", "overcast,softbox,lowsun").split(",")

DRESS = """
const { token } = await (await fetch('/api/v1/session')).json();
const model = (await (await fetch('/api/v1/models')).json()).find(m => m.name === arguments[0]);
const { parts } = await (await fetch(`/api/v1/models/${model.id}`)).json();
for (const p of parts) if (!p.lookId && p.candidates.length)
  await fetch(`/api/v1/models/${model.id}/bindings`, { method: 'PUT', headers: { 'Content-Type': 'application/json', 'X-Kiln-Token': token }, body: JSON.stringify({ look: p.candidates[0], parts: [{ path: p.path, was: null }] }) });
return model.id;"""

PROOF = """
const [model, light, width, height, samples] = arguments;
const answer = await fetch(`/api/v1/models/${model}/picture?light=${light}&width=${width}&height=${height}&samples=${samples}&yaw=28&pitch=14&zoom=1`);
if (!answer.ok) throw Error(await answer.text());
const picture = await createImageBitmap(await answer.blob());
const canvas = document.createElement('canvas');
[canvas.width, canvas.height] = [width, height];
canvas.getContext('2d').drawImage(picture, 0, 0);
return canvas.toDataURL('image/png').split(',')[1];"""

DRAWN = """
const [light, width, height] = arguments;
const canvas = document.querySelector('[data-testid=model-viewport]');
const bytes = await (await fetch(`/api/v1/viewport/lights/${light}?working=acescg`)).arrayBuffer();
const head = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, new DataView(bytes).getUint32(0, true)))).head;
// The scene has the light asked for, and its maps in full.
for (let i = 0; ; i++) {
  const s = canvas.kilnScene;
  if (s?.frames > 1 && JSON.stringify(s.lit?.floorRadiance) === JSON.stringify(head.floorRadiance) && s.maps.every(m => m.image.width > 64)) break;
  if (i === 900) throw Error('the viewport does not come');
  await new Promise(r => setTimeout(r, 200));
}
const s = canvas.kilnScene;
s.resize(width, height, 3);
const shot = () => { s.redraw(); return canvas.toDataURL('image/png').split(',')[1]; };
const whole = shot();
s.background.visible = s.floor.visible = false;
const model = shot();
s.background.visible = s.floor.visible = true;
return [whole, model];"""

page = Page(base, 9790)
try:
    page.sign_in()
    model = page.run(DRESS, name)
    proofs = [page.run(PROOF, model, light, WIDTH, HEIGHT, SAMPLES) for light in LIGHTS]
    page.devtools("Network.setBlockedURLs", {"urls": ["*/models/*/picture*"]})
    page.go(f"/models/{model}")
    cells = []
    for light, proof in zip(LIGHTS, proofs):
        page.click(f"[data-value={light}]")
        time.sleep(1)
        one, two, mask = (png(base64.b64decode(p)) for p in (proof, *page.run(DRAWN, light, WIDTH, HEIGHT)))
        found = [delta(lab(one[y][x]), lab(two[y][x])) for y in range(HEIGHT) for x in range(WIDTH) if max(mask[y][x]) > 0]
        cells.append(f"{sum(found) / len(found):.2f}")
    print("| model | " + " | ".join(LIGHTS) + " |\n|---|" + "---|" * len(LIGHTS))
    print(f"| {name} | " + " | ".join(cells) + " |")
finally:
    page.close()
