#!/usr/bin/env bash
# From dropping a 5-map 2K set to the first wired proof, part by part. Needs ./start running (first argument: its address) and curl, python3.
set -euo pipefail
base="${1:-http://127.0.0.1:5210}"
here="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
"$here/kiln" demo "$work" --size 2048
python3 - "$base" "$work/tide_organ_breakwater.zip" <<'P'
import http.cookiejar, io, json, struct, sys, time, urllib.request, zipfile
base, path = sys.argv[1:3]
jar = http.cookiejar.CookieJar(); web = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar)); token = ""
def call(method, where, body=None, raw=None):
    data = raw if raw is not None else json.dumps(body).encode() if body is not None else None
    r = urllib.request.Request(base + "/api/v1" + where, data, {"X-Kiln-Token": token, "Content-Type": "application/json"}, method=method)
    return web.open(r)
token = json.load(call("GET", "/session"))["token"]
call("POST", "/session", {"name": "noor", "password": "noor-kiln"}); token = json.load(call("GET", "/session"))["token"]
buffer = io.BytesIO()
with zipfile.ZipFile(path) as src, zipfile.ZipFile(buffer, "w") as dst:
    for n in src.namelist():
        if n.startswith("verdigris") and any(k in n for k in ("basecolor", "metalness", "glossiness", "normal", "height")):
            dst.writestr("bench%d/%s" % (time.time() % 1e6, n.split("/")[-1]), src.read(n))
marks = [("start", time.time())]
d = json.load(call("POST", "/deliveries", {"name": "bench"}))["id"]
call("PUT", f"/deliveries/{d}/files/set.zip", raw=buffer.getvalue()); marks.append(("upload", time.time()))
call("POST", f"/deliveries/{d}/analyse", {})
while json.load(call("GET", f"/deliveries/{d}"))["state"] == "analysing": time.sleep(0.02)
marks.append(("intake", time.time()))
look = json.load(call("POST", f"/deliveries/{d}/wire", {}))[0]["id"]; marks.append(("wire", time.time()))
r = call("POST", f"/looks/{look}/proof", {"viewer": "bench", "form": "vessel", "light": "softbox", "width": 480, "height": 480, "samples": 1, "zoom": 1, "lightRotation": 0, "exposure": 0, "view": "aces1-sdr", "background": True, "moving": False})
j, p = struct.unpack("<ii", r.read(8)); r.read(j + p); marks.append(("first proof", time.time()))
total = marks[-1][1] - marks[0][1]
for (a, t0), (b, t1) in zip(marks, marks[1:]): print(f"{b:12} {t1-t0:6.2f} s  {100*(t1-t0)/total:4.0f} %")
print(f"{'total':12} {total:6.2f} s   ({len(buffer.getvalue())>>20} MB)")
P
