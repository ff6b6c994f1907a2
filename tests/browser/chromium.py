"""Headless Chromium with a viewport of its own size, and a few words for driving the page."""

from __future__ import annotations

import contextlib
import os
import re
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, TypeVar

from selenium import webdriver
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from tests.patience import patiently

T = TypeVar("T")

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"

FLAGS = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-quic",
    "--disable-sync",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-dev-shm-usage",
    "--hide-scrollbars",
    # Its own address field, which nobody sees, has pages that take half as much of the processor as
    # Winnow's.
    "--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup,WebUIOmniboxFullPopup",
]


class Page:
    """A browser window on Winnow."""

    def __init__(self, driver: webdriver.Chrome, context: str) -> None:
        self.driver = driver
        self._context = context

    def open(self, url: str) -> None:
        """Go to an address."""
        self.driver.get(url)

    def new_window(self) -> None:
        """Open one more window, and go to it."""
        window = self.driver.browsing_context.create(type="window", user_context=self._context)
        self.driver.switch_to.window(window)

    @property
    def shoot(self) -> int:
        """The id of the shoot that is open."""
        found = re.search(r"/shoots/(\d+)", self.driver.current_url)
        assert found, f"no shoot is open at {self.driver.current_url}"
        return int(found.group(1))

    def ask(self, path: str) -> Any:
        """What the server answers to the page; ``path`` is below the open shoot's."""
        script = "const [url, done] = arguments; fetch(url).then((r) => r.json()).then(done)"
        return self.driver.execute_async_script(script, f"/api/shoots/{self.shoot}/{path}")

    def downloads_to(self, folder: Path) -> None:
        """Keep what is downloaded in a folder."""
        self.driver.execute_cdp_cmd(
            "Browser.setDownloadBehavior",
            {
                "behavior": "allow",
                "downloadPath": str(folder),
                "browserContextId": self._context,
            },
        )

    def until(self, condition: Callable[[], T], seconds: float = 180) -> T:
        """Wait until a condition holds, and return what it gave."""

        pause = 0.02
        for _ in patiently(seconds):
            # What is not there yet, or not any more, is asked for again: less and less often, as
            # asking takes from the processor what the answer needs.
            with contextlib.suppress(Exception):
                if found := condition():
                    return found
            time.sleep(pause)
            pause = min(0.3, pause * 1.5)
        raise AssertionError(f"This never came true. The page says:\n{self.text()}")

    def all(self, css: str) -> list[WebElement]:
        """Elements by CSS selector."""
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def one(self, css: str) -> WebElement:
        """The first element, waited for."""
        return self.until(lambda: self.all(css)[0])

    def button(self, words: str) -> WebElement:
        """The first button with these words, waited for."""
        path = f"//button[contains(normalize-space(.), {words!r})]"
        return self.until(lambda: self.driver.find_elements(By.XPATH, path)[0])

    def field(self, name: str) -> WebElement:
        """The field with this accessible name."""
        return self.one(f'[aria-label="{name}"]')

    def cell(self, name: str) -> str:
        """What a frame in the sheet says of itself, by its name: "QH_0001, picked"."""
        return self.one(f'[role=option][aria-label^="{name},"]').get_attribute("aria-label") or ""

    def cells(self) -> list[str]:
        """The names of the frames in the sheet, in order."""
        said = "e => e.ariaLabel.split(',')[0]"
        script = f"return [...document.querySelectorAll('[data-frame]')].map({said})"
        names: list[str] = self.driver.execute_script(script)
        return names

    def keys(self, *chords: str) -> None:
        """Press chords such as "L", "Ctrl+Z" or "ArrowRight" on the page."""
        for chord in chords:
            *held, key = chord.split("+")
            if chord == "D":
                self._tap("d")
                continue
            modifiers = [
                {"Ctrl": Keys.CONTROL, "Shift": Keys.SHIFT, "Alt": Keys.ALT}[key] for key in held
            ]
            named = {"Space": " ", "Escape": Keys.ESCAPE, "Enter": Keys.ENTER}
            named |= {"Home": Keys.HOME, "End": Keys.END, "Backspace": Keys.BACKSPACE}
            named |= {"PageUp": Keys.PAGE_UP, "PageDown": Keys.PAGE_DOWN}
            for way in ("Left", "Right", "Up", "Down"):
                named[f"Arrow{way}"] = getattr(Keys, f"ARROW_{way.upper()}")
            # One by one: a key may need the view that the one before it opens.
            actions = ActionChains(self.driver, duration=10)
            for modifier in modifiers:
                actions.key_down(modifier)
            actions.send_keys(named.get(key, key.lower()))
            for modifier in modifiers:
                actions.key_up(modifier)
            actions.perform()

    def _tap(self, letter: str) -> None:
        """Press and release a key at one moment: held for longer on a busy machine, this one does
        something else."""
        now = time.time()
        about = {
            "key": letter,
            "code": f"Key{letter.upper()}",
            "windowsVirtualKeyCode": ord(letter.upper()),
        }
        for kind in ("keyDown", "keyUp"):
            event = {"type": kind, "timestamp": now, **about}
            self.driver.execute_cdp_cmd("Input.dispatchKeyEvent", event)

    def analysed(self) -> bool:
        """Whether a shoot is shown, and none of its pictures waits to be analysed; faces may."""
        return bool(self.all("header [aria-label]")) and not self.all(
            "header [aria-label^=Indexing]"
        )

    def text(self, css: str = "body") -> str:
        """The text that is seen on the page, or in the first element of a CSS selector; "" without
        one."""
        # Much cheaper than an element's own ``text``, and asked for twenty times a second.
        script = "return document.querySelector(arguments[0])?.innerText ?? ''"
        return str(self.driver.execute_script(script, css)).replace("\u00a0", " ").strip()

    def violations(self, *rules: str) -> list[list[object]]:
        """What axe-core's rules, which follow WCAG 2.2, find wrong: the rule, how often, and the
        first place. ``rules``: those that are asked; without, all that are on by themselves."""
        # The library is 600 kB long: it is sent once a page.
        if not self.driver.execute_script("return !!window.axe"):
            self.driver.execute_script(AXE.read_text("utf-8"))
        found: list[list[object]] = self.driver.execute_async_script(
            "const [rules, done] = arguments; const runOnly = rules.length ? {runOnly: rules} : {};"
            "axe.run({resultTypes: ['violations'], ...runOnly}).then(r => done("
            "r.violations.map(v => [v.id, v.nodes.length, v.nodes[0].html.slice(0, 300)])))",
            rules,
        )
        return found

    def theme(self, name: str) -> None:
        """Show it light or dark, as the looks do."""
        self.driver.execute_script("document.documentElement.dataset.theme = arguments[0]", name)

    def viewport(self, width: int, height: int) -> None:
        """Set the size of what is seen, exactly."""
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
        )


class Browser:
    """One Chromium. Each page that it opens has cookies, storage and downloads of its own."""

    def __init__(self, driver: webdriver.Chrome) -> None:
        self._driver = driver
        self._first = driver.current_window_handle

    @contextmanager
    def page(self) -> Iterator[Page]:
        """A new window of 1280 × 800 in a context of its own; all its windows are closed at the
        end."""
        driver = self._driver
        context = driver.browser.create_user_context()
        page = Page(driver, context)
        page.new_window()
        page.viewport(1280, 800)
        try:
            yield page
        finally:
            driver.switch_to.window(self._first)
            driver.browser.remove_user_context(context)

    def errors(self) -> list[dict[str, object]]:
        """What pages complained of since this was asked last; files that are missing are left
        out."""
        return [
            entry
            for entry in self._driver.get_log("browser")
            if entry["level"] == "SEVERE" and "Failed to load resource" not in entry["message"]
        ]


@contextmanager
def chromium(*more: str) -> Iterator[Browser]:
    """A Chromium with a new profile, and with more flags."""
    os.environ["SE_OFFLINE"] = "true"
    with tempfile.TemporaryDirectory() as profile:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in (*FLAGS, *more, f"--user-data-dir={profile}", "--window-size=1280,943"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        options.set_capability("webSocketUrl", True)  # contexts are made by WebDriver BiDi
        driver = webdriver.Chrome(options, webdriver.ChromeService("/usr/bin/chromedriver"))
        try:
            yield Browser(driver)
        finally:
            driver.quit()
