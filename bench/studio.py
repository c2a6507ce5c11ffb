"""A studio of 10,000 looks in 200 collections, made from the demo's by a script: how soon it answers, and how it bears fifty people at once.

usage: studio.py [ADDRESS] [SECONDS]   Needs ./start running with the demo (ADDRESS, http://127.0.0.1:5210) and its database (PGHOST, PGPORT, PGUSER, PGDATABASE).
Reads: the 95th percentile of 200 answers each, one after another, aim 100 ms; and the time from opening the page to the first names on it in headless Chromium, aim 1 s.
People: 20 who edit ten looks that they share, each repeating what met another's edit, and 30 who look around, for SECONDS (120); no error, no lost edit, reads within 300 ms.
"""
import glob, http.client, json, os, random, subprocess, sys, tempfile, threading, time, urllib.parse, urllib.request

base = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:5210"
seconds = int(sys.argv[2]) if len(sys.argv) > 2 else 120
psql = sorted(glob.glob("/usr/lib/postgresql/*/bin/psql"))[-1]
LOOKS, COLLECTIONS = 10_000, 200


def sql(text):
    return subprocess.run([psql, "-qAt", "-v", "ON_ERROR_STOP=1", "-c", text], check=True, capture_output=True, text=True).stdout


class Client:
    """A signed-in person with a connection of their own."""

    cookies = {}

    def __init__(self, name):
        self.name, self.connection = name, http.client.HTTPConnection(urllib.parse.urlparse(base).netloc, timeout=60)
        if name not in Client.cookies:
            Client.cookies[name] = {}
            self.token = self.get("session")["token"]
            self.send("POST", "session", {"name": name, "password": name + "-kiln"})
        self.token = self.get("session")["token"]

    def ask(self, method, path, body=None, headers=None):
        jar = Client.cookies[self.name]
        sent = {"Cookie": "; ".join(f"{k}={v}" for k, v in jar.items()), "Content-Type": "application/json", **(headers or {})}
        if hasattr(self, "token"):
            sent["X-Kiln-Token"] = self.token
        self.connection.request(method, "/api/v1/" + path, None if body is None else json.dumps(body), sent)
        response = self.connection.getresponse()
        data = response.read()
        for line in response.headers.get_all("Set-Cookie") or []:
            key, value = line.split(";")[0].split("=", 1)
            jar[key] = value
        return response.status, data

    def get(self, path):
        status, data = self.ask("GET", path)
        if status != 200:
            raise RuntimeError(f"{path}: {status} {data[:200]}")
        return json.loads(data)

    def send(self, method, path, body, revision=None):
        return self.ask(method, path, body, {"If-Match": f'"{revision}"'} if revision is not None else None)


def generate():
    have = int(sql("select count(*) from looks"))
    if have >= LOOKS:
        return
    # Names differ, and so documents and hashes; what was measured of a look holds for its copies.
    sql(f"""
        with source as (select row_number() over (order by id) - 1 as k, * from looks where hash is not null), n as (select count(*) as c from source),
        made as (select gen_random_uuid() as id, s.name || ' ' || i as name, replace(s.document, '"name":"' || s.name || '"', '"name":"' || s.name || ' ' || i || '"') as document, s.hash as was, s.tags, s.roles, s.contents, s.created_by, i
                 from generate_series(1, {LOOKS - have}) i, n join source s on true where s.k = i % n.c),
        kept as (insert into looks (id, name, document, created_by, tags, roles, contents, search, hash) select id, name, document, created_by, tags || ('batch ' || i % 40), roles, contents, lower(name || E'\n' || array_to_string(tags, E'\n') || E'\nbatch ' || i % 40), encode(sha256(convert_to(document, 'UTF8')), 'hex') from made returning id, hash),
        measured as (insert into look_measures (hash, under, measures) select k.hash, m.under, m.measures from kept k join made d on d.id = k.id join look_measures m on m.hash = d.was on conflict do nothing returning 1),
        shelves as (insert into collections (id, name) select gen_random_uuid(), 'show ' || i from generate_series(1, {COLLECTIONS - 2}) i returning id),
        numbered as (select id, row_number() over () as r from shelves)
        insert into collection_looks (collection_id, look_id) select n.id, d.id from made d join numbered n on n.r = 1 + d.i % {COLLECTIONS - 2};
        insert into look_versions (id, look_id, number, document, hash, note, person_id, contents) select gen_random_uuid(), l.id, v, l.document, l.hash, 'version ' || v, l.created_by, l.contents from looks l, generate_series(1, 3) v where l.name ~ ' [0-9]+$';
        insert into look_history (look_id, number, words, edit, inverse, person_id) select l.id, v, 'coat weight: 0.' || v, '{{}}', '{{}}', l.created_by from looks l, generate_series(1, 5) v where l.name ~ ' [0-9]+$';
        analyze;""")


def percentile(times, share):
    return sorted(times)[min(len(times) - 1, int(len(times) * share))]


def reads():
    noor = Client("noor")
    shelves = [c["id"] for c in noor.get("collections") if c["name"].startswith("show ")]
    looks = noor.get("looks?most=1000")
    maps = [s["file"]["content"] for l in looks[:20] for s in noor.get(f"looks/{l['id']}")["document"]["slots"].values()]
    rows = {
        "search by words": lambda: "looks?most=100&words=" + urllib.parse.quote(random.choice(["copper", "wall 77", "rope 1", "knob", "canvas 42"])),
        "search by tag and role": lambda: f"looks?most=100&tag=batch%20{random.randrange(40)}&role=height",
        "search by base colour": lambda: "looks?most=100&within=20&colour=" + urllib.parse.quote(random.choice(["#2e4a44", "#8a4020", "lab 50 0 0", "#c0b090"])),
        "search by dialect": lambda: "looks?most=100&dialect=" + random.choice(["gltf", "openpbr", "celadon"]),
        "first page of all": lambda: "looks?most=100",
        "a page from the middle": lambda: "looks?most=100&afterName=" + urllib.parse.quote(random.choice(looks)["name"]) + "&afterId=00000000-0000-0000-0000-000000000000",
        "collections": lambda: "collections",
        "contact sheet's looks": lambda: "looks?collection=" + random.choice(shelves),
        "table of a collection": lambda: f"collections/{random.choice(shelves)}/table",
        "versions of a look": lambda: f"looks/{random.choice(looks)['id']}/versions",
        "history of a look": lambda: f"looks/{random.choice(looks)['id']}/history",
        "where a map is used": lambda: f"contents/{random.choice(maps)}/users",
        "variants of a look": lambda: f"looks/{random.choice(looks)['id']}/variants",
        "a look": lambda: f"looks/{random.choice(looks)['id']}",
    }
    for words, path in rows.items():
        for _ in range(10):
            noor.get(path())
        times = []
        for _ in range(200):
            began = time.perf_counter()
            noor.get(path())
            times.append(1000 * (time.perf_counter() - began))
        print(f"{words}: median {percentile(times, 0.5):.1f} ms, 95 % {percentile(times, 0.95):.1f} ms; aim 100", flush=True)


def screen():
    driver = subprocess.Popen(["chromedriver", "--port=9789", "--silent"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    time.sleep(1)
    profile = tempfile.mkdtemp()

    def call(method, path, body=None):
        request = urllib.request.Request("http://127.0.0.1:9789" + path, method=method, data=None if body is None else json.dumps(body).encode(), headers={"Content-Type": "application/json"})
        return json.load(urllib.request.urlopen(request, timeout=120))["value"]

    arguments = ["--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--window-size=1280,940", "--user-data-dir=" + profile]
    session = "/session/" + call("POST", "/session", {"capabilities": {"alwaysMatch": {"goog:chromeOptions": {"args": arguments}}}})["sessionId"]
    try:
        call("POST", session + "/timeouts", {"implicit": 15000, "script": 60000})
        find = lambda css: list(call("POST", session + "/element", {"using": "css selector", "value": css}).values())[0]
        call("POST", session + "/url", {"url": base})
        call("POST", f"{session}/element/{find('input[name=name]')}/value", {"text": "noor"})
        call("POST", f"{session}/element/{find('input[type=password]')}/value", {"text": "noor-kiln\ue007"})
        time.sleep(2)
        for words, path, css in [("all looks", "/looks", "li span.font-medium"), ("a collection", "/collections", "li span.font-medium")]:
            times = []
            for _ in range(5):
                call("POST", session + "/url", {"url": "about:blank"})
                began = time.perf_counter()
                call("POST", session + "/url", {"url": base + path})
                find(css)
                times.append(time.perf_counter() - began)
            print(f"{words} on screen: median {percentile(times, 0.5):.2f} s, slowest {max(times):.2f} s; aim 1", flush=True)
    finally:
        call("DELETE", session)
        driver.terminate()


def people():
    looks = Client("noor").get("looks?most=400&words=copper")
    shared = [l["id"] for l in looks[:10]]
    before = sum(int(sql(f"select count(*) from look_history where look_id = '{i}'")) for i in shared)
    end, lock = time.time() + seconds, threading.Lock()
    reading, writing, done, met, errors = [], [], [0], [0], []

    def edits(n):
        client, r = Client(["noor", "mika", "ada"][n % 3]), random.Random(n)
        while time.time() < end:
            look, value = r.choice(shared), round(r.random(), 3)
            for _ in range(50):
                revision = client.get(f"looks/{look}")["revision"]
                began = time.perf_counter()
                status, data = client.send("POST", f"looks/{look}/edits", {"edit": "value", "lane": "coat_weight", "value": {"kind": "scalar", "number": value}}, revision)
                with lock:
                    writing.append(1000 * (time.perf_counter() - began))
                if status == 200:
                    with lock:
                        done[0] += 1
                    break
                if status != 412:
                    raise RuntimeError(f"edit: {status} {data[:200]}")
                with lock:
                    met[0] += 1
            time.sleep(r.uniform(0.5, 2))

    def looks_around(n):
        client, r = Client(["vera", "mika", "noor"][n % 3]), random.Random(1000 + n)
        shelves = [c["id"] for c in client.get("collections") if c["name"].startswith("show ")]
        while time.time() < end:
            path = r.choice(["looks?most=100&words=copper", "looks?collection=" + r.choice(shelves), f"collections/{r.choice(shelves)}/table", f"looks/{r.choice(looks)['id']}", f"looks/{r.choice(shared)}/history", f"looks/{r.choice(looks)['id']}/versions"])
            began = time.perf_counter()
            client.get(path)
            with lock:
                reading.append(1000 * (time.perf_counter() - began))
            time.sleep(r.uniform(0.3, 1.5))

    def guarded(work, n):
        try:
            work(n)
        except Exception as e:
            errors.append(str(e))

    for name in ("noor", "mika", "ada", "vera"):
        Client(name)
    threads = [threading.Thread(target=guarded, args=(edits, n)) for n in range(20)] + [threading.Thread(target=guarded, args=(looks_around, n)) for n in range(30)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    after = sum(int(sql(f"select count(*) from look_history where look_id = '{i}'")) for i in shared)
    print(f"50 people for {seconds} s: {len(reading)} reads, median {percentile(reading, 0.5):.0f} ms, 95 % {percentile(reading, 0.95):.0f} ms; aim 300")
    print(f"{len(writing)} edits sent, 95 % {percentile(writing, 0.95):.0f} ms; {done[0]} taken, {met[0]} met another's and were repeated; in the history {after - before}: {'none lost' if after - before == done[0] else 'LOST'}; {len(errors)} errors {errors[:3]}")


generate()
print("looks", sql("select count(*) from looks").strip(), "collections", sql("select count(*) from collections").strip())
reads()
screen()
people()
