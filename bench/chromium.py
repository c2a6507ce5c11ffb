"""A page of the running server in headless Chromium, for measurements: signed in, scripts awaited. Speaks W3C WebDriver to ChromeDriver."""
import json, subprocess, tempfile, time, urllib.request


class Page:
    """@param software: draws WebGL on the processor. @param proves: see the method."""

    def __init__(self, base, port, software=True, proves=True):
        self.base, self.port = base, port
        self.driver = subprocess.Popen(["chromedriver", f"--port={port}", "--silent"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        time.sleep(1)
        self.profile = tempfile.mkdtemp()
        graphics = ["--use-angle=swiftshader", "--enable-unsafe-swiftshader"] if software else ["--disable-gpu"]
        options = {"args": ["--headless=new", "--no-sandbox", *graphics, "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--window-size=1280,940", "--user-data-dir=" + self.profile]}
        self.session = "/session/" + self.call("POST", "/session", {"capabilities": {"alwaysMatch": {"goog:chromeOptions": options}}})["sessionId"]
        self.call("POST", self.session + "/timeouts", {"implicit": 15000, "script": 290000})
        self.devtools("Network.enable", {})
        self.proves(proves)

    def proves(self, may):
        """Whether the page may ask for proofs."""
        self.devtools("Network.setBlockedURLs", {"urls": [] if may else ["*/looks/*/proof"]})

    def call(self, method, path, body=None):
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", method=method, data=None if body is None else json.dumps(body).encode(), headers={"Content-Type": "application/json"})
        try:
            return json.load(urllib.request.urlopen(request, timeout=300))["value"]
        except urllib.error.HTTPError as error:
            raise SystemExit(error.read().decode()[:600])

    def devtools(self, command, parameters):
        return self.call("POST", self.session + "/goog/cdp/execute", {"cmd": command, "params": parameters})

    def find(self, css):
        return list(self.call("POST", self.session + "/element", {"using": "css selector", "value": css}).values())[0]

    def click(self, css):
        self.call("POST", f"{self.session}/element/{self.find(css)}/click", {})

    def type(self, css, text):
        self.call("POST", f"{self.session}/element/{self.find(css)}/value", {"text": text})

    def go(self, path):
        self.call("POST", self.session + "/url", {"url": self.base + path})

    def run(self, code, *arguments):
        """The value of an asynchronous function's body; a fault in it ends the measurement."""
        answer = self.call("POST", self.session + "/execute/async", {"script": "const done = arguments[arguments.length - 1]; (async () => {" + code + "})().then(v => done({ v }), e => done({ fault: String(e) }))", "args": list(arguments)})
        if "fault" in answer:
            raise SystemExit(answer["fault"])
        return answer.get("v")

    def sign_in(self, person="noor"):
        self.go("/")
        self.type("input[name=name]", person)
        self.type("input[type=password]", person + "-kiln\ue007")
        time.sleep(2)
        self.run("localStorage.setItem('kiln.viewport', 'on'); localStorage.setItem('kiln.benchHints', 'read')")

    def looks(self, only=()):
        return [l for l in self.run("return await (await fetch('/api/v1/looks')).json()") if not only or l["name"] in only]

    def close(self):
        self.call("DELETE", self.session)
        self.driver.terminate()
        subprocess.run(["rm", "-rf", self.profile])
