"""How far the viewport is from the proof: mean ΔE2000 over the form, for every look of the demo under three lights.

usage: [SETTLED=PATHS] [SIDE=128] [SAMPLES=512] [LIGHTS=A,B] viewport.py [ADDRESS] [LOOK…]   A server with fresh demo data (./start). The browser draws on its software GL, each pixel at nine places, as the viewport does where frames are quick; proofs have so many SAMPLES. Prints a table for docs/viewport.md: while moving, and with SETTLED after so many paths of every pixel, too.
ΔE2000 after Sharma, Wu and Dalal 2005, on displayed sRGB values with the white of D65.
"""
import base64, math, os, struct, sys, zlib

from chromium import Page

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
only = sys.argv[2:]
SIDE, SAMPLES, PATHS = (int(os.environ.get(name, usual)) for name, usual in (("SIDE", 128), ("SAMPLES", 512), ("SETTLED", 0)))
LIGHTS = os.environ.get("LIGHTS", "overcast,softbox,lowsun").split(",")

def png(data):
    """Rows of a PNG of 8 bits and three or four channels, as triples."""
    at, idat = 8, b""
    while at < len(data):
        length, kind = struct.unpack(">I4s", data[at : at + 8])
        body = data[at + 8 : at + 8 + length]
        if kind == b"IHDR":
            width, height, _, colour = struct.unpack(">IIBB", body[:10])
        if kind == b"IDAT":
            idat += body
        at += 12 + length
    n = 4 if colour == 6 else 3
    raw, rows, before = zlib.decompress(idat), [], bytearray(width * n)
    for y in range(height):
        kind, line = raw[y * (width * n + 1)], bytearray(raw[y * (width * n + 1) + 1 : (y + 1) * (width * n + 1)])
        for i in range(len(line)):
            a, b, c = (line[i - n] if i >= n else 0), before[i], (before[i - n] if i >= n else 0)
            p = a + b - c
            line[i] = (line[i] + [0, a, b, (a + b) // 2, a if abs(p - a) <= abs(p - b) and abs(p - a) <= abs(p - c) else b if abs(p - b) <= abs(p - c) else c][kind]) & 255
        rows.append([tuple(line[i : i + 3]) for i in range(0, len(line), n)])
        before = line
    return rows


LINEAR = [v / 255 / 12.92 if v <= 10 else ((v / 255 + 0.055) / 1.055) ** 2.4 for v in range(256)]


def lab(rgb):
    r, g, b = (LINEAR[v] for v in rgb)
    f = lambda t: t ** (1 / 3) if t > 216 / 24389 else (24389 / 27 * t + 16) / 116
    x, y, z = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047), f(0.2126729 * r + 0.7151522 * g + 0.0721750 * b), f((0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883)
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


def delta(one, two):
    (l1, a1, b1), (l2, a2, b2) = one, two
    c = (math.hypot(a1, b1) + math.hypot(a2, b2)) / 2
    g = 0.5 * (1 - math.sqrt(c**7 / (c**7 + 25**7)))
    p1, p2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = math.hypot(p1, b1), math.hypot(p2, b2)
    h1, h2 = math.degrees(math.atan2(b1, p1)) % 360, math.degrees(math.atan2(b2, p2)) % 360
    dh = 0 if c1 * c2 == 0 else (h2 - h1 + 180) % 360 - 180
    dl, dc, dH = l2 - l1, c2 - c1, 2 * math.sqrt(c1 * c2) * math.sin(math.radians(dh / 2))
    lm, cm = (l1 + l2) / 2, (c1 + c2) / 2
    hm = h1 + h2 if c1 * c2 == 0 else (h1 + h2) / 2 if abs(h1 - h2) <= 180 else ((h1 + h2 + 360) / 2) % 360
    t = 1 - 0.17 * math.cos(math.radians(hm - 30)) + 0.24 * math.cos(math.radians(2 * hm)) + 0.32 * math.cos(math.radians(3 * hm + 6)) - 0.2 * math.cos(math.radians(4 * hm - 63))
    sl, sc, sh = 1 + 0.015 * (lm - 50) ** 2 / math.sqrt(20 + (lm - 50) ** 2), 1 + 0.045 * cm, 1 + 0.015 * cm * t
    turn = -math.sin(math.radians(60 * math.exp(-(((hm - 275) / 25) ** 2)))) * 2 * math.sqrt(cm**7 / (cm**7 + 25**7))
    return math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dH / sh) ** 2 + turn * dc / sc * dH / sh)


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
