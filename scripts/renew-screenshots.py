#!/usr/bin/env python3
"""Renews pictures in docs/screenshots and docs/guide/pictures from a server with fresh demo data: KILN_FOLDER=/tmp/shots ./start --port 5333, then scripts/renew-screenshots.py http://127.0.0.1:5333 [NAME… or guide/NAME…].

Speaks to ChromeDriver by the W3C WebDriver protocol.
"""
import base64, json, subprocess, sys, tempfile, time, urllib.request
from pathlib import Path

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def test(name):
    return f"//*[@data-testid='{name}']"


def look(name):
    return f"//a[@data-look='{name}']"


def renderer(name):
    return test("renderer") + f"//*[@data-value='{name}']"


def open_side(name):
    return [("wait", REFINED), test("tab-" + name)]


REFINED = "//p[number(@data-samples)>=96]"
TWO = ["sail canvas", "brass reed plate"]
# name: person, address, steps, what must be there before the picture is taken (XPath). A step is a place to click, ("type", place, text), ("wait", place), or ("slow", milliseconds that each answer takes from then on).
VIEWS = {
    "bench": ("noor", "/looks", [look("knurled steel knob")], REFINED),
    "bench-night": ("noor", "/looks", [look("verdigris copper pipe"), ("wait", REFINED), "//*[@data-lane='specular_roughness']//*[@data-tile='invert']"], "//*[@data-testid='step-after']"),
    "bench-large": ("noor", "/looks", [look("verdigris copper pipe")], "//p[number(@data-samples)>=20]"),
    "bench-renderer": ("noor", "/looks", [look("verdigris copper pipe"), renderer("celadon")], REFINED),
    "viewport": ("noor", "/looks", [look("barnacle iron"), ("wait", REFINED), test("tab-view"), test("compare-with"), "//*[@role='option'][@data-value='viewport' or @data-choice='viewport']"], test("viewport-difference") + "[starts-with(.,'mean')]"),
    # Another light is asked for over a slow wire: the picture before it lies under a veil until the new one is there.
    "veil": ("noor", "/looks", [look("verdigris copper pipe"), ("wait", REFINED), test("tab-view"), ("slow", 20000), test("proof-light") + "//*[@data-value='lowsun']"], test("veiled")),
    "nodes": ("noor", "/looks", [look("verdigris copper pipe"), ("wait", REFINED), renderer("celadon"), test("bench-menu"), test("menu-nodes")], "//*[contains(@class,'react-flow__node')]"),
    "report": ("noor", "/looks", [look("verdigris copper pipe"), renderer("celadon"), ("wait", REFINED), test("publish")], "(//dl[@aria-label='report']//*[contains(., 'mean ΔE')])[1]"),
    # The radio in five looks: three by name, two answered.
    "models": ("noor", "/models", ["//*[@data-candidate='amber tuning window']", ("wait", "//*[@data-part='tuning_window' and @data-look!='']"), "//*[@data-candidate='knurled steel knob']", ("wait", "//*[@data-part='knob' and @data-look!='']")], "//*[@data-testid='model-picture' and @data-settled='true']//img"),
    "intake": ("noor", "/intake", ["//a[text()='Tide Organ Timber and Slate']"], "//*[@data-question='reflection']//img"),
    "people": ("ada", "/studio/people", [], test("person-vera")),
    "naming-rules": ("noor", "/studio", [test("naming-add"), ("type", test("rule-phrase"), "kelp wetness")], "//*[@role='status'][contains(.,'New:')]"),
    "collection": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]"], "(//main//img)[10]"),
    "table": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]", test("collection-Table")], "//mark"),
    "rules": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]", test("collection-Rules"), test("rules-usual")], test("rule-row-maps") + "//button[contains(.,'break')]"),
    "variants": ("noor", "/looks", [look("speaker cloth"), ("wait", REFINED), test("bench-menu"), test("menu-variants"), test("variant-add"), test("variant-tint"), ("type", "//*[@data-variant]//*[@data-column='base_color/dye/other']", "#b03020\ue007")], "(//main//img)[2]"),
    "compare": ("noor", "/looks", [*[test("choose-" + n) for n in TWO], "//a[contains(@href,'/compare?chosen')]", test("add-column"), "//*[@role='option' and @data-value='lowsun']"], "(//span[@data-difference!=''])[2]"),
    "studio-colour": ("ada", "/studio/colour", [], test("chart-check")),
    "renderers": ("ada", "/studio/renderers", [test("open-bisque"), ("wait", test("profile-state")), test("section-id"), test("section-mapping")], test("row-mapping-polish")),
}
# Pictures of the guide: the same, and what of the page is shown. In a smaller window, so that they can be read beside a view.
GUIDE = {
    "sorting-table": ("noor", "/intake", ["//a[text()='shoreline_scans_v2']"], "//td//img", "//table"),
    "readings": ("noor", "/intake", ["//a[text()='shoreline_scans_v2']"], "//td//img", "(//tbody/tr)[1]"),
    "bench": ("noor", "/looks", [look("verdigris copper pipe")], REFINED, "//main"),
    "layers": ("noor", "/looks", [look("limewash over copper"), ("wait", REFINED), test("layers") + "//*[@data-value='all']"], "//*[@data-covered]", "//main"),
    "renderer": ("noor", "/looks", [look("verdigris copper pipe"), renderer("celadon")], REFINED, "(//*[@data-lane])[1]/ancestor::*[contains(@class,'overflow-auto')][1]"),
    "table": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]", test("collection-Table")], "//mark", "//main//table"),
    "rules": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]", test("collection-Rules"), test("rules-usual")], test("rule-row-maps") + "//button[contains(.,'break')]", "//section[@aria-label='rules of the collection']"),
    "profile": ("ada", "/studio/renderers", [test("open-saggar"), ("wait", test("profile-state")), test("section-id"), test("section-mapping")], test("row-mapping-grit"), "//section[@aria-label='text of the profile']"),
}
LARGE = {"bench-large"}
NIGHT = {"bench-night"}
# Taken as they are, before what they wait for is there.
AT_ONCE = {"veil"}
# Views in which the browser draws by itself, on the processor.
DRAWN = {"viewport"}


class Driver:
    def __init__(self, address, size=(1280, 800), draws=False):
        self.address, self.port = address, 9787
        self.process = subprocess.Popen(["chromedriver", f"--port={self.port}", "--silent"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        arguments = ["--headless=new", "--no-sandbox", *(["--use-angle=swiftshader", "--enable-unsafe-swiftshader"] if draws else ["--disable-gpu"]), "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
                     f"--window-size={size[0]},{size[1] + 143}", "--user-data-dir=" + tempfile.mkdtemp()]
        for _ in range(50):
            try:
                self.session = "/session/" + self.call("POST", "/session", {"capabilities": {"alwaysMatch": {"browserName": "chrome", "goog:chromeOptions": {"args": arguments}}}})["sessionId"]
                return
            except OSError:
                time.sleep(0.2)
        raise SystemExit("chromedriver does not answer")

    def call(self, method, path, body=None):
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", method=method, data=json.dumps(body or {}).encode() if method == "POST" else None, headers={"Content-Type": "application/json"})
        return json.load(urllib.request.urlopen(request))["value"]

    def go(self, path):
        self.call("POST", self.session + "/url", {"url": self.address + path})

    def find(self, xpath, seconds=60):
        for _ in range(seconds * 5):
            if found := self.call("POST", self.session + "/elements", {"using": "xpath", "value": xpath}):
                return list(found[0].values())[0]
            time.sleep(0.2)
        raise SystemExit("not on the page: " + xpath)

    def click(self, xpath):
        self.call("POST", f"{self.session}/element/{self.find(xpath)}/click")

    def type(self, xpath, text):
        self.call("POST", f"{self.session}/element/{self.find(xpath)}/value", {"text": text})

    def end(self):
        try:
            self.call("DELETE", self.session)
        finally:
            self.process.terminate()


def main():
    address, names = sys.argv[1], sys.argv[2:] or [*VIEWS, *("guide/" + name for name in GUIDE)]
    for name in names:
        of_guide = name.startswith("guide/")
        person, path, steps, there, *part = GUIDE[name[6:]] if of_guide else VIEWS[name]
        driver = Driver(address, (2560, 1440) if name in LARGE else (1120, 700) if of_guide else (1280, 800), name in DRAWN)
        try:
            driver.go("/intake")
            driver.type("//input[@name='name']", person)
            driver.type("//input[@name='password']", person + "-kiln\ue007")
            driver.find("//h1[text()='Intake']")
            driver.call("POST", driver.session + "/execute/sync", {"script": "localStorage.setItem('kiln.benchHints', 'read'); if (arguments[0]) localStorage.setItem('kiln.theme', 'night'); if (arguments[1]) localStorage.setItem('kiln.viewport', 'on')", "args": [name in NIGHT, name in DRAWN]})
            driver.go(path)
            for step in steps:
                match step:
                    case ("type", place, text):
                        driver.type(place, text)
                    case ("wait", place):
                        driver.find(place, 180)
                    case ("slow", latency):
                        for command, parameters in (("Network.enable", {}), ("Network.emulateNetworkConditions", {"offline": False, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1})):
                            driver.call("POST", driver.session + "/goog/cdp/execute", {"cmd": command, "params": parameters})
                    case place:
                        driver.click(place)
            driver.find(there, 180)
            # Pictures of looks and maps come after the page.
            for _ in range(0 if name in AT_ONCE else 300):
                time.sleep(1)
                if driver.call("POST", driver.session + "/execute/sync", {"script": "return [...document.images].every(i => i.complete && i.naturalWidth > 0)", "args": []}):
                    break
            # The pointer rests where it explains nothing.
            driver.call("POST", driver.session + "/actions", {"actions": [{"type": "pointer", "id": "m", "actions": [{"type": "pointerMove", "x": 4, "y": 600, "duration": 50}]}]})
            time.sleep(2)
            what = f"/element/{driver.find(part[0])}/screenshot" if part else "/screenshot"
            file = (FOLDER.parent / "guide" / "pictures" / f"{name[6:]}.png") if of_guide else FOLDER / f"{name}.png"
            file.write_bytes(base64.b64decode(driver.call("GET", driver.session + what)))
            print(file)
        finally:
            driver.end()
        time.sleep(1)


main()
