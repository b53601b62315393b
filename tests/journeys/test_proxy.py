"""Elder through the proxy that ships: Debian's nginx, TLS with a certificate made here, limits, the forwarded address,
and the round out of reach."""

from __future__ import annotations

import base64
import hashlib
import socket
import ssl
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from axes.models import AccessAttempt
from playwright.sync_api import Browser, BrowserType, expect

from demo.loader import PASSWORD
from tests.journeys.conftest import CHROMIUM, FLAGS, PHONE, Complaints, opened

pytestmark = pytest.mark.journey

SAMPLE = Path(__file__).parents[2] / "deploy" / "nginx" / "elder.conf"
WHOLE = """
user root; pid {here}/nginx.pid; error_log {here}/error.log; worker_processes 1; daemon off;
events {{ worker_connections 128; }}
http {{
    access_log off;
    client_body_temp_path {here}/body; proxy_temp_path {here}/proxy; fastcgi_temp_path {here}/f;
    uwsgi_temp_path {here}/u; scgi_temp_path {here}/s;
    include {here}/elder.conf;
}}
"""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Proxy:
    """nginx with the sample as it ships, but for ports, names and where the certificate lies."""

    def __init__(self, here: Path, upstream: str) -> None:
        self.here, self.plain, self.secure = here, free_port(), free_port()
        self.certificate, self.key = here / "cert.pem", here / "key.pem"
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost",
             "-addext", "subjectAltName=DNS:localhost", "-keyout", str(self.key), "-out", str(self.certificate)],
            check=True, capture_output=True,
        )  # fmt: skip
        text = SAMPLE.read_text()
        for old, new in (
            ("127.0.0.1:8470", upstream), ("elder.example/fullchain.pem", "cert.pem"),
            ("elder.example/privkey.pem", "key.pem"), ("/etc/letsencrypt/live", str(here)),
            ("    listen [::]:80;\n", ""), ("    listen [::]:443 ssl http2;\n", ""),
            ("listen 80", f"listen {self.plain}"), ("listen 443", f"listen {self.secure}"),
            ("elder.example", "localhost"),
        ):  # fmt: skip
            assert old in text, old
            text = text.replace(old, new)
        (here / "elder.conf").write_text(text)
        (here / "nginx.conf").write_text(WHOLE.format(here=here))
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"https://localhost:{self.secure}"

    def begin(self) -> None:
        self.process = subprocess.Popen(["/usr/sbin/nginx", "-c", str(self.here / "nginx.conf"), "-p", str(self.here)])
        for _ in range(200):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.secure)) == 0:
                    return
            time.sleep(0.05)
        raise RuntimeError((self.here / "error.log").read_text())

    def end(self) -> None:
        if self.process:
            self.process.terminate()
            self.process.wait(timeout=10)
            self.process = None

    @property
    def mark(self) -> str:
        """The certificate's own mark, by which a browser is told to trust it."""
        public = subprocess.run(
            ["openssl", "x509", "-in", str(self.certificate), "-pubkey", "-noout"], check=True, capture_output=True
        ).stdout
        der = subprocess.run(
            ["openssl", "pkey", "-pubin", "-outform", "der"], input=public, check=True, capture_output=True
        )
        return base64.b64encode(hashlib.sha256(der.stdout).digest()).decode()

    def ask(self, path: str, **more: Any) -> tuple[int, Any]:
        """Status and headers of an answer, whatever it is."""
        trusting = ssl.create_default_context(cafile=str(self.certificate))
        request = urllib.request.Request(f"{self.address}{path}", **more)  # noqa: S310 - our own loopback address
        try:
            with urllib.request.urlopen(request, context=trusting, timeout=20) as answer:  # noqa: S310
                return answer.status, answer.headers
        except urllib.error.HTTPError as error:
            return error.code, error.headers


@pytest.fixture
def proxy(tmp_path: Path, demo: str, settings: Any) -> Iterator[Proxy]:
    settings.SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    settings.SESSION_COOKIE_SECURE = settings.CSRF_COOKIE_SECURE = True
    settings.TRUSTED_PROXIES = 1
    proxy = Proxy(tmp_path, demo.removeprefix("http://"))
    proxy.begin()
    yield proxy
    proxy.end()


@pytest.fixture
def trusting(browser_type: BrowserType, proxy: Proxy) -> Iterator[Browser]:
    """A browser that trusts this one certificate, as one trusts a real one: only then are pages kept out of reach."""
    flags = [*FLAGS, f"--ignore-certificate-errors-spki-list={proxy.mark}"]
    browser = browser_type.launch(executable_path=str(CHROMIUM), args=flags)
    yield browser
    browser.close()


def test_tls_limits_and_the_forwarded_address(proxy: Proxy) -> None:
    class Stay(urllib.request.HTTPRedirectHandler):
        def redirect_request(self, *args: Any) -> None:
            return None

    with pytest.raises(urllib.error.HTTPError) as moved:
        urllib.request.build_opener(Stay).open(f"http://localhost:{proxy.plain}/now/", timeout=10)
    assert (moved.value.code, moved.value.headers["Location"]) == (301, "https://localhost/now/")
    code, headers = proxy.ask("/sign-in/")
    assert code == 200
    assert "default-src 'none'" in headers["Content-Security-Policy"]
    assert "Secure" in headers["Set-Cookie"]
    assert "Content-Encoding" not in headers
    assert "nginx/" not in headers["Server"]
    assert proxy.ask("/health/")[0] == 404
    long = b"x" * 28_000_000
    assert proxy.ask("/habits/", data=long)[0] == 413
    assert proxy.ask("/archive/", data=long)[0] in (403, 413), "let through, and refused by Elder, who knows nobody"


def test_the_round_out_of_reach_through_the_proxy(trusting: Browser, complaints: Complaints, proxy: Proxy) -> None:
    page = opened(trusting, complaints, viewport=PHONE, has_touch=True, is_mobile=True)
    page.set_extra_http_headers({"X-Forwarded-For": "203.0.113.9"})
    page.goto(f"{proxy.address}/sign-in/")
    page.get_by_label("Username").or_(page.get_by_label("Name")).first.fill("gardener")
    page.locator("input[type=password]").fill("not this one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.locator(".wrong, .invalid-feedback").first).to_be_visible()
    assert AccessAttempt.objects.get().ip_address == "127.0.0.1", "what a visitor says of themselves is not believed"
    page.locator("input[type=password]").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/season/")
    page.goto(page.url.replace("/season/", "/round/"))
    expect(page.locator("body[data-kept]")).to_have_count(1)
    page.wait_for_function("navigator.serviceWorker.ready.then(r => r.active && r.active.state === 'activated')")
    page.reload()
    expect(page.locator("body[data-kept]")).to_have_count(1)
    said = page.locator("h1").inner_text()
    proxy.end()
    page.reload()
    expect(page.locator("h1")).to_have_text(said)
    proxy.begin()
    page.reload()
    expect(page.locator("h1")).to_have_text(said)
    complaints[:] = [one for one in complaints if "ERR_CONNECTION_REFUSED" not in one]
    page.context.close()
