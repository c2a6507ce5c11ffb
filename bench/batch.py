#!/usr/bin/env python3
"""A collection of a hundred looks with 1K maps written for a dialect on the running server (./start): looks a minute, and the server's memory as it goes.

bench/batch.py [DIALECT] [LOOKS]; needs the demo people. Looks are the demo's own, brought in again as packages, each with a tag of its own so that none is the same document.
"""
import http.cookiejar, json, subprocess, sys, time, urllib.request

base = "http://localhost:5210/api/v1/"
dialect, count = (sys.argv[1:2] or ["saggar"])[0], int((sys.argv[2:3] or ["100"])[0])
opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
token = ""


def ask(method, path, body=None, revision=None):
    data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
    headers = {"X-Kiln-Token": token, "Content-Type": "application/octet-stream" if isinstance(body, bytes) else "application/json"}
    if revision is not None:
        headers["If-Match"] = f'"{revision}"'
    with opener.open(urllib.request.Request(base + path, data, headers, method=method)) as answer:
        content = answer.read()
    return json.loads(content) if content and answer.headers.get_content_type() == "application/json" else content


def memory():
    pid = subprocess.run(["pgrep", "-f", "Kiln.Server.dll"], capture_output=True, text=True).stdout.split()[0]
    return int([l for l in open(f"/proc/{pid}/status") if l.startswith("VmRSS")][0].split()[1]) // 1024


token = ask("GET", "session")["token"]
ask("POST", "session", {"name": "noor", "password": "noor-kiln"})
token = ask("GET", "session")["token"]
demo = [l for l in ask("GET", "looks") if not l["name"].startswith("batch")]
packages = [ask("GET", f"looks/{l['id']}/package?dialect=openpbr") for l in demo]
collection = ask("POST", "collections", {"name": f"batch {int(time.time())}"})["id"]
for i in range(count):
    look = ask("POST", "looks/packages?name=look.zip", packages[i % len(packages)])[0]
    ask("POST", f"looks/{look['id']}/edits", {"edit": "tags", "tags": [f"number{i}"]}, 1)
    ask("PUT", f"collections/{collection}/looks/{look['id']}")
start, batch = time.time(), ask("POST", f"collections/{collection}/batches?dialect={dialect}&drafts=true")["id"]
told, samples = 0, []
while True:
    row = next(b for b in ask("GET", "batches") if b["id"] == batch)
    done = sum(l["state"] != "waiting" for l in row["looks"])
    samples.append((done, memory()))
    if done // 20 > told // 20 or done == count:
        print(f"{done} looks after {time.time() - start:.0f} s, server {samples[-1][1]} MB", flush=True)
    told = done
    if done == count:
        break
    time.sleep(1)
failed = [l for l in row["looks"] if l["state"] == "failed"]
late = [m for d, m in samples if d >= count // 2]
print(f"{count} looks to {dialect}: {60 * count / (time.time() - start):.0f} looks a minute, {len(failed)} failed; memory over the second half {min(late)} to {max(late)} MB")
