"""How long a proof that somebody waits for waits for one that nobody waits for: the time to its first picture, alone and beside a large proof ordered as a file.

usage: waiting.py [ADDRESS]   A server with the demo data (./start). Prints both medians and their difference; the aim of the difference is 50 ms.
"""
import http.cookiejar, json, statistics, sys, time, urllib.request

base = (sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210") + "/api/v1"
opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))


def call(path, body=None, method=None):
    request = urllib.request.Request(base + path, method=method or ("GET" if body is None else "POST"), data=None if body is None else json.dumps(body).encode(), headers={"Content-Type": "application/json", "X-Kiln-Token": token})
    return opener.open(request, timeout=120)


token = ""
token = json.load(call("/session"))["token"]
call("/session", {"name": "noor", "password": "noor-kiln"})
token = json.load(call("/session"))["token"]
look = next(l["id"] for l in json.load(call("/looks")) if l["name"] == "verdigris copper pipe")
turn = 0


def first_picture():
    """Milliseconds to the first picture of a proof whose camera was never asked for before."""
    global turn
    turn += 1
    began = time.perf_counter()
    answer = call(f"/looks/{look}/proof", {"viewer": "bench", "width": 240, "height": 240, "samples": 1, "yaw": turn * 0.37, "moving": True})
    answer.read(int.from_bytes(answer.read(4), "little"))
    answer.read(int.from_bytes(answer.read(4), "little"))
    took = 1000 * (time.perf_counter() - began)
    answer.read()
    return took


def median(count=15):
    return statistics.median(first_picture() for _ in range(count))


for _ in range(5):
    first_picture()
alone = median()
order = json.load(call(f"/looks/{look}/proof-files", {"width": 2048, "height": 2048, "samples": 512, "format": "png"}))["id"]
time.sleep(4)
state = next(o for o in json.load(call("/proof-files")) if o["id"] == order)
assert state["state"] not in ("done", "failed"), state
beside = median()
call(f"/proof-files/{order}", method="DELETE")
print(f"first picture, 240 pixels: {alone:.0f} ms alone, {beside:.0f} ms beside a large proof; {beside - alone:.0f} ms of waiting, aim 50")
