"""What a frame of the viewport costs: each look of the demo, 400 pixels square, against three's own physical material on the same form with the same maps, by turns in the same page.

usage: frame.py [ADDRESS] [LOOK…]   A server with fresh demo data (./start), and web/node_modules. The browser draws on its software GL. Both draw with four samples a pixel, the light around prefiltered, one sun with a shadow map of 1024 pixels (drawn before, as while only a value moves), the form, the floor and the background, and bring the light to the screen by a curve. Prints the median of 15 frames of each and their ratio; the aim is 1.5.
"""
import os, sys
from pathlib import Path

from chromium import Page

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
SIDE, FRAMES, SMOOTH = 400, 9, os.environ.get('SMOOTH', '1') == '1'
build = Path(__file__).resolve().parent.parent / "web" / "node_modules" / "three" / "build"
core, module = ((build / name).read_text() for name in ("three.core.js", "three.module.js"))

OTHER = """
  const [core, module, side, frames, smooth] = arguments;
  const as = text => URL.createObjectURL(new Blob([text], { type: 'text/javascript' }));
  window.kilnThree ??= await import(as(module.replaceAll('./three.core.js', as(core))));
  const T = window.kilnThree;
  const canvas = document.querySelector('canvas');
  let s;
  for (let i = 0; i < 900; i++) {
    s = canvas.kilnScene;
    if (s?.frames > 0 && s.maps.every(m => m.image.width > 64)) break;
    await new Promise(r => setTimeout(r, 200));
  }
  // The form, its maps one by one, and the light, as the viewport has them.
  const from = s.geometry, geometry = new T.BufferGeometry();
  for (const [to, name] of [['position', 'aPosition'], ['normal', 'aNormal'], ['tangent', 'aTangent'], ['uv', 'aUv']]) {
    const a = from.getAttribute(name);
    geometry.setAttribute(to, new T.BufferAttribute(a.array, a.itemSize));
  }
  geometry.setIndex(new T.BufferAttribute(from.index.array, 1));
  const texture = (data, width, height, one, half) => {
    const t = new T.DataTexture(data, width, height, one ? T.RedFormat : T.RGBAFormat, half ? T.HalfFloatType : T.FloatType);
    t.wrapS = t.wrapT = T.RepeatWrapping;
    t.magFilter = T.LinearFilter;
    t.minFilter = T.LinearMipmapLinearFilter;
    t.generateMipmaps = t.needsUpdate = true;
    return t;
  };
  const wide = [], narrow = [];
  for (const m of s.maps) {
    const { data, width, height, depth } = m.image, one = m.format === T.RedFormat, each = data.length / depth;
    for (let i = 0; i < depth; i++) (one ? narrow : wide).push(texture(data.subarray(i * each, (i + 1) * each), width, height, one, data instanceof Uint16Array));
  }
  const count = wide.length + narrow.length;
  const has = name => new RegExp('#define KILN_' + name + ' 1').test(s.source);
  const settings = { metalness: 0.5, roughness: 0.5 };
  if (has('COAT')) settings.clearcoat = 1;
  if (has('FUZZ')) settings.sheen = 1;
  if (has('THROUGH')) Object.assign(settings, { transmission: 1, thickness: 0.1 });
  if (has('FILM')) settings.iridescence = 1;
  if (has('ANISOTROPIC')) settings.anisotropy = 0.5;
  // Every map of the look has a place; a place is not used twice.
  const places = [['map', 'normalMap', 'emissiveMap', 'clearcoatNormalMap'], ['roughnessMap', 'metalnessMap', 'aoMap', 'clearcoatMap', 'alphaMap', 'thicknessMap', 'specularIntensityMap', 'bumpMap']];
  [wide, narrow].forEach((maps, k) => maps.forEach((m, i) => places[k][i] && (settings[places[k][i]] = m)));
  if (settings.emissiveMap) settings.emissive = new T.Color(0.01, 0.01, 0.01);
  const renderer = new T.WebGLRenderer({ antialias: smooth });
  renderer.setSize(side, side, false);
  renderer.toneMapping = T.ACESFilmicToneMapping;
  renderer.shadowMap.enabled = true;
  const scene = new T.Scene();
  const sharp = new T.DataTexture(s.shared.uSharp.value.image.data, s.shared.uSharp.value.image.width, s.shared.uSharp.value.image.height, T.RGBAFormat, T.HalfFloatType);
  sharp.mapping = T.EquirectangularReflectionMapping;
  sharp.minFilter = sharp.magFilter = T.LinearFilter;
  sharp.needsUpdate = true;
  scene.environment = new T.PMREMGenerator(renderer).fromEquirectangular(sharp).texture;
  scene.background = sharp;
  const form = new T.Mesh(geometry, new T.MeshPhysicalMaterial({ ...settings, side: T.DoubleSide }));
  form.castShadow = form.receiveShadow = true;
  const floor = new T.Mesh(new T.CircleGeometry(6, 64).rotateX(-Math.PI / 2), new T.MeshStandardMaterial({ color: 0x707070, roughness: 0.6 }));
  floor.receiveShadow = true;
  const sun = new T.DirectionalLight(0xffffff, 2);
  sun.position.set(2, 3, 1);
  sun.castShadow = true;
  sun.shadow.mapSize.set(1024, 1024);
  scene.add(form, floor, sun);
  const { camera } = s;
  const eye = new T.PerspectiveCamera(camera.fov, 1, camera.near, camera.far);
  eye.position.copy(camera.position);
  eye.quaternion.copy(camera.quaternion);
  s.resize(side, side);
  const pixel = new Uint8Array(4);
  const wait = gl => gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
  const ours = () => { s.redraw(); wait(s.renderer.getContext()); };
  const theirs = () => { renderer.render(scene, eye); wait(renderer.getContext()); };
  for (let i = 0; i < 3; i++) { ours(); theirs(); renderer.shadowMap.autoUpdate = false; }
  const times = [[], []];
  for (let i = 0; i < frames; i++)
    [ours, theirs].forEach((draw, k) => { const began = performance.now(); draw(); times[k].push(performance.now() - began); });
  const picture = (renderer.render(scene, eye), renderer.domElement.toDataURL('image/png'));
  renderer.dispose();
  renderer.forceContextLoss();
  const middle = v => v.sort((a, b) => a - b)[v.length >> 1];
  return [...times.map(middle), count, Object.keys(settings).join(' '), picture];
"""

page = Page(base, 9787, proves=False)
try:
    page.sign_in()
    page.devtools("Page.setBypassCSP", {"enabled": True})
    print("| look | maps | viewport, ms | three's physical material, ms | ratio |\n|---|---|---|---|---|")
    worst = 0
    for look in page.looks(sys.argv[2:]):
        page.go(f"/looks/{look['id']}")
        page.find("canvas")
        one, two, maps, settings, picture = page.run(OTHER, core, module, SIDE, FRAMES, SMOOTH)
        worst = max(worst, one / two)
        print(f"| {look['name']} | {maps} | {one:.1f} | {two:.1f} | {one / two:.2f} |", flush=True)
        print(settings, file=sys.stderr)
        if "--picture" in sys.argv:
            import base64
            open("/tmp/frame.png", "wb").write(base64.b64decode(picture.split(",")[1]))
    print(f"\nGreatest ratio {worst:.2f}")
finally:
    page.close()
