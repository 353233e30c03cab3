"""The command line for a shop: passwords, serving its network, backups, open files."""

import importlib.metadata
import io
import json
import os
import re
import signal
import socket
import ssl
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest
from click.testing import CliRunner, Result
from pypdf import PdfReader

from arcstack import __version__
from arcstack.application.people import People, Role
from arcstack.cli import main
from arcstack.demo.workshop import make_demo
from arcstack.store import Database
from arcstack.web import create_app

WORDS = "four old seats ring"


def run(*args: str, **more: str) -> Result:
    return CliRunner().invoke(main, list(args), **more)  # type: ignore[arg-type]


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("shop")
    make_demo(folder)
    return folder


def test_the_version_is_one() -> None:
    assert run("--version").output.strip().endswith(__version__)
    assert importlib.metadata.version("arcstack") == __version__
    assert (Path(__file__).parents[1] / "CHANGELOG.md").read_text("utf-8").find(f"## {__version__}") > 0


def test_a_password_lets_somebody_in_and_the_first_is_an_owner(tmp_path: Path) -> None:
    data = ("--data", str(tmp_path))
    told = run("password", "Ilse", *data, "--stdin", input="short\n")
    assert told.exit_code == 1
    assert "characters at least" in told.output
    told = run("password", "Ilse", *data, input=f"{WORDS}\n{WORDS}\n")
    assert "Ilse signs in as owner" in told.output
    assert WORDS not in told.output
    assert (
        "Wen signs in as look" in run("password", "Wen", *data, "--role", "look", "--stdin", input=f"{WORDS}\n").output
    )
    people = People(Database.open(tmp_path / "workshop.sqlite"))
    assert {p.name: p.role for p in people.all()} == {"Ilse": Role.OWNER, "Wen": Role.LOOK}
    assert "last owner" in run("password", "Ilse", *data, "--role", "look", "--stdin", input=f"{WORDS}\n").output


def test_the_network_is_not_served_before_a_password_is_set(tmp_path: Path) -> None:
    told = run("serve", "--host", "0.0.0.0", "--data", str(tmp_path), "--port", str(free()))
    assert told.exit_code == 1
    assert "not served before a password is set" in told.output
    told = run("serve", "--host", "0.0.0.0", "--data", str(tmp_path), "--cert", __file__)
    assert told.exit_code == 2
    assert "name both" in told.output


def free() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Served:
    """The workshop, served by the command in a process of its own."""

    def __init__(self, *args: str) -> None:
        self.port = free()
        command = [sys.executable, "-m", "arcstack.cli", *args, "--port", str(self.port)]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        for _ in range(600):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            if self.process.poll() is not None:
                break
            time.sleep(0.1)
        raise AssertionError(self.process.communicate()[0])

    def get(self, path: str, scheme: str = "http", host: str = "127.0.0.1") -> tuple[int, str, str]:
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        request = urllib.request.Request(f"{scheme}://127.0.0.1:{self.port}{path}", headers={"Host": host})
        try:
            with urllib.request.urlopen(request, timeout=60, context=context) as told:
                return told.status, told.read().decode("utf-8", "replace"), told.url
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode("utf-8", "replace"), error.url

    def stop(self) -> None:
        self.process.send_signal(signal.SIGINT)
        try:
            self.process.wait(20)
        except subprocess.TimeoutExpired:
            self.process.kill()


def test_a_shop_is_served_over_tls_by_its_own_name_alone(tmp_path: Path) -> None:
    run("password", "Ilse", "--data", str(tmp_path), "--stdin", input=f"{WORDS}\n")
    cert, key = tmp_path / "cert.pem", tmp_path / "key.pem"
    made = subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=bench.test",
         "-keyout", str(key), "-out", str(cert)], capture_output=True, check=False,
    )  # fmt: skip
    assert made.returncode == 0, made.stderr
    data = ("--data", str(tmp_path))
    served = Served(
        "serve", "--host", "127.0.0.1", "--name", "bench.test", "--cert", str(cert), "--key", str(key), *data
    )
    try:
        code, page, url = served.get("/", "https")
        assert code == 200
        assert "/sign-in" in url
        assert 'type="password"' in page
        assert served.get("/sign-in", "https", "bench.test")[0] == 200
        assert served.get("/sign-in", "https", "evil.test")[0] == 400
        # told to end while two bodies are half sent, it ends
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        halves = [context.wrap_socket(socket.create_connection(("127.0.0.1", served.port))) for _ in range(2)]
        for half in halves:
            half.sendall(b"POST /sign-in HTTP/1.1\r\nHost: bench.test\r\nContent-Length: 9000\r\n\r\nname=")
        served.process.send_signal(signal.SIGTERM)
        served.process.wait(20)
    finally:
        served.stop()
    broken = run("serve", "--host", "127.0.0.1", "--cert", str(key), "--key", str(cert), *data, "--port", str(free()))
    assert broken.exit_code == 1
    assert "certificate cannot be used" in broken.output


def test_a_tablet_that_trusts_the_shops_authority_reaches_it_without_a_warning(tmp_path: Path) -> None:
    data = ("--data", str(tmp_path))
    run("password", "Ilse", *data, "--stdin", input=f"{WORDS}\n")
    assert "arc-stack certificate" in run("serve", "--host", "127.0.0.1", "--private", *data).output
    told = run("certificate", "localhost", "bench.test", *data)
    assert told.exit_code == 0, told.output
    mark = told.output.strip().splitlines()[-1]
    served = Served("serve", "--host", "127.0.0.1", "--private", *data)
    try:
        at = f"https://localhost:{served.port}"
        with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
            urllib.request.urlopen(f"{at}/trust", timeout=30)
        # what the page gives is what is trusted
        given = served.get("/trust/authority.crt", "https", "bench.test")
        assert given[0] == 200
        context = ssl.create_default_context(cafile=str(tmp_path / "certificates" / "authority.pem"))
        with urllib.request.urlopen(f"{at}/trust", timeout=30, context=context) as page:
            assert mark in page.read().decode()
    finally:
        served.stop()


def test_a_head_and_a_workshop_come_back_by_command_from_a_second_folder(tmp_path: Path) -> None:
    shop, share, home = tmp_path / "shop", tmp_path / "share", tmp_path / "home"
    make_demo(shop)
    secret = "nine words of a passphrase"
    assert "no second folder" in run("second-folder", "--data", str(shop)).output
    told = run("second-folder", str(share), "--data", str(shop), "--stdin", input=f"{secret}\n")
    assert "sealed: 0 files" in told.output
    assert run("backup", "--data", str(shop)).exit_code == 0
    (sealed,) = share.glob("*.zip.age")
    wrong = run("restore", str(sealed), "--data", str(home), "--stdin", input="another\n")
    assert wrong.exit_code == 1
    assert "not opened by that passphrase" in wrong.output
    assert "Restored into" in run("restore", str(sealed), "--data", str(home), "--stdin", input=f"{secret}\n").output
    number = run("restore-head", str(sealed), "3", "--data", str(home), "--stdin", input=f"{secret}\n")
    assert "is here again as build" in number.output
    assert (
        "no such head"
        in run("restore-head", str(sealed), "99", "--data", str(home), "--stdin", input=f"{secret}\n").output
    )
    from arcstack.application.trail import Trail

    assert [r.act for r in Trail(Database.open(home / "workshop.sqlite")).page().rows] == ["restore"]


def test_a_hundred_and_twenty_idle_connections_hold_up_nobody(shop: Path) -> None:
    served = Served("serve", "--data", str(shop))
    idle = []
    try:
        served.get("/")
        for n in range(120):
            one = socket.create_connection(("127.0.0.1", served.port))
            if n % 2:
                one.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ")
            idle.append(one)
        assert served.get("/")[0] == 200
        # it did not wait for them to be closed: every one is still held
        for one in idle:
            one.setblocking(False)
            with pytest.raises(BlockingIOError):
                one.recv(1)
    finally:
        for one in idle:
            one.close()
        served.stop()


def test_a_backup_is_taken_while_it_is_served_and_restored_into_another_home(shop: Path, tmp_path: Path) -> None:
    served = Served("serve", "--data", str(shop))
    try:
        served.get("/")
        told = run("backup", "--data", str(shop))
        assert told.exit_code == 0, told.output
        assert re.search(r"3 builds.* photographs, [\d.]+ MB", told.output)
        refused = run("restore", str(next((shop / "backups").glob("2*"))), "--data", str(shop))
        assert refused.exit_code == 1
        assert "is being served" in refused.output
    finally:
        served.stop()
    along = tmp_path / "along.zip"
    assert run("backup", "--data", str(shop), "--to", str(along)).exit_code == 0
    home = tmp_path / "home" / ".local" / "share" / "arc-stack"
    told = run("restore", str(along), "--data", str(home))
    assert "Restored into" in told.output
    again = run("restore", str(along), "--data", str(home))
    assert "What stood there before is kept as" in again.output
    served = Served("serve", "--data", str(home))
    try:
        assert "Rowan" in served.get("/")[1]
    finally:
        served.stop()
    nothing = tmp_path / "no.zip"
    nothing.write_bytes(b"no")
    assert run("restore", str(nothing), "--data", str(home)).exit_code == 1
    assert run("backup", "--data", str(tmp_path / "empty")).exit_code == 1


def test_open_files_go_out_and_come_back(shop: Path, tmp_path: Path) -> None:
    target = tmp_path / "open.zip"
    assert "3 builds" in run("export", str(target), "--data", str(shop)).output
    home = tmp_path / "home"
    assert "3 builds" in run("import", str(target), "--data", str(home)).output
    told = run("import", str(target), "--data", str(home))
    assert told.exit_code == 1
    assert "holds builds already" in told.output
    assert run("export", str(target), "--data", str(tmp_path / "none")).exit_code == 1


def test_a_kill_while_it_is_served_loses_nothing_that_was_said_to_be_saved(tmp_path: Path) -> None:
    make_demo(tmp_path)
    served = Served("serve", "--data", str(tmp_path))
    try:
        jar = urllib.request.HTTPCookieProcessor()
        opener = urllib.request.build_opener(jar)
        at = f"http://127.0.0.1:{served.port}"
        page = opener.open(f"{at}/", timeout=60).read().decode()
        token = re.search(r'name="csrf-token" content="([^"]+)"', page)
        assert token
        saved = 1
        for n in range(6):
            data = f"path=brief.limiter&text={8000 + n}&base={saved}&stage=brief&side=intake"
            headers = {"X-CSRFToken": token[1], "Referer": f"{at}/"}
            request = urllib.request.Request(f"{at}/builds/1/edit", data.encode(), headers)
            assert opener.open(request, timeout=60).status == 200
            saved += 1
        os.kill(served.process.pid, signal.SIGKILL)
    finally:
        served.process.wait(20)
    from arcstack.application import Workshop

    assert Workshop(Database.open(tmp_path / "workshop.sqlite")).open(1).revision == saved


def test_what_a_command_prints_as_json_is_json() -> None:
    assert json.loads(run("schema").output)["title"]


def test_a_sheet_is_printed_with_no_server_and_says_what_the_page_says(shop: Path, tmp_path: Path) -> None:
    said = {}
    for head in ("Rowan, endurance four", "3"):
        to = tmp_path / f"{len(head)}.pdf"
        told = run("sheet", head, "timing", "--to", str(to), "--by", "Ilse", "--units", "both", "--data", str(shop))
        assert told.exit_code == 0, told.output
        assert "Timing sheet of Rowan, endurance four, revision 1" in told.output
        said[head] = "".join(page.extract_text() for page in PdfReader(to).pages)
    assert said["3"] == said["Rowan, endurance four"]
    assert "printed by Ilse" in said["3"]
    with create_app(shop).test_client() as client:
        data = client.get("/builds/3/intake/sheets/timing.pdf?units=both").get_data()
    page = "".join(p.extract_text() for p in PdfReader(io.BytesIO(data)).pages)
    assert page.replace("printed by workshop", "") == said["3"].replace("printed by Ilse", "")


@pytest.mark.parametrize(
    ("args", "words"),
    [
        (("Nobody", "timing"), "no such head in it. It has"),
        (("3", "poem"), "is not one of"),
    ],
)
def test_a_sheet_that_is_not_there_is_told(shop: Path, tmp_path: Path, args: tuple[str, str], words: str) -> None:
    told = run("sheet", *args, "--to", str(tmp_path / "a.pdf"), "--data", str(shop))
    assert told.exit_code != 0
    assert words in told.output
    assert not (tmp_path / "a.pdf").exists()


def test_a_sheet_of_no_workshop_makes_none(tmp_path: Path) -> None:
    told = run("sheet", "3", "timing", "--to", str(tmp_path / "a.pdf"), "--data", str(tmp_path / "none"))
    assert "There is no workshop in" in told.output
    assert not (tmp_path / "none").exists()
