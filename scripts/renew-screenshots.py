#!/usr/bin/env python3
"""Renews pictures in docs/screenshots from a server with fresh demo data: KILN_FOLDER=/tmp/shots ./start --port 5333, then scripts/renew-screenshots.py http://127.0.0.1:5333 [NAME…].

Speaks to ChromeDriver by the W3C WebDriver protocol. Views that need more than an address and clicks are not in the list yet.
"""
import base64, json, subprocess, sys, tempfile, time, urllib.request
from pathlib import Path

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
# name: person, address, what is clicked one after another (XPath), what must be there before the picture is taken (XPath)
REFINED = "//p[number(@data-samples)>=96]"
VIEWS = {
    "bench": ("noor", "/looks", ["//a[.//span[text()='knurled steel knob']]", "//button[text()='Low rows']"], REFINED),
    "bench-dialect": ("noor", "/looks", ["//a[.//span[text()='verdigris copper pipe']]", "//button[text()='Celadon']"], REFINED),
    "intake": ("noor", "/intake", ["//a[text()='Tide Organ Timber and Slate']"], "//*[@data-question='reflection']//img"),
    "people": ("ada", "/studio/people", [], "//*[@data-testid='person-vera']"),
    "naming-rules": ("noor", "/studio", [], "//h2[text()='Try a file name']"),
    "collection": ("noor", "/collections", ["//a[contains(.,'The Tide Organ')]"], "(//main//img | //ul//img)[10]"),
}


class Driver:
    def __init__(self, address):
        self.address, self.port = address, 9787
        self.process = subprocess.Popen(["chromedriver", f"--port={self.port}", "--silent"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        arguments = ["--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
                     "--window-size=1280,943", "--user-data-dir=" + tempfile.mkdtemp()]
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
    address, names = sys.argv[1], sys.argv[2:] or list(VIEWS)
    for name in names:
        person, path, clicks, there = VIEWS[name]
        driver = Driver(address)
        try:
            driver.go("/intake")
            driver.type("//input[@name='name']", person)
            driver.type("//input[@name='password']", person + "-kiln\ue007")
            driver.find("//h1[text()='Intake']")
            driver.go(path)
            for click in clicks:
                driver.click(click)
            driver.find(there, 180)
            # Pictures of looks and maps come after the page.
            for _ in range(300):
                time.sleep(1)
                if driver.call("POST", driver.session + "/execute/sync", {"script": "return [...document.images].every(i => i.complete && i.naturalWidth > 0)", "args": []}):
                    break
            time.sleep(2)
            (FOLDER / f"{name}.png").write_bytes(base64.b64decode(driver.call("GET", driver.session + "/screenshot")))
            print(f"docs/screenshots/{name}.png")
        finally:
            driver.end()
        time.sleep(1)


main()
