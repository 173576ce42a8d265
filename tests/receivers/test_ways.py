"""Each way over real sockets, to stand-ins with rules and faults; and to servers that lie."""

from __future__ import annotations

import hashlib
import ssl
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from ipaddress import ip_address
from threading import Thread
from types import SimpleNamespace

import numpy as np
import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import NameOID
from typing_extensions import override

from oak_ledge.core.receivers.way import FolderWay, HttpWay
from oak_ledge.receivers.errors import BrokenLineError, NotReadyError, NotTakenError
from oak_ledge.receivers.line import CHUNK, Outgoing, open_line
from tests import samples


def outgoing(path, name=None, *, before=False):
    data = path.read_bytes()
    digest = hashlib.sha256(data).hexdigest()
    return Outgoing(path, name or path.name, len(data), digest, "image/jpeg", before)


def put(way, file, secret=None):
    with open_line(way, secret) as line:
        return line.put(file, lambda count: None)


@pytest.fixture
def files(tmp_path):
    """A file that each stand-in takes, and one it does not."""
    white = np.full((1600, 1600, 3), 255, np.uint8)
    sign = samples.save(tmp_path / "sign.jpg", white[:160, :384])
    return {
        "lab": (samples.photo(tmp_path / "print.jpg", 1200, 1800, dpi=(300, 300)), sign),
        "marketplace": (samples.save(tmp_path / "stall.jpg", white), sign),
        "sign": (sign, samples.photo(tmp_path / "board.jpg", 200, 160)),
    }


ARRIVED = {
    "lab": (".", "size compared", "no printed size"),
    "marketplace": (".", "ticket 1021, digest compared", "1600 px or more"),
    "sign": ("now/here", "size compared", "would be used"),
}


@pytest.mark.parametrize("kind", ARRIVED)
def test_a_file_arrives_whole_and_what_is_refused_says_why(stand_in, files, tmp_path, kind):
    way = stand_in(kind)
    folder, receipt, reason = ARRIVED[kind]
    taken, refused = files[kind]
    counts: list[int] = []
    with open_line(way) as line:
        assert receipt in line.put(outgoing(taken), counts.append)
        with pytest.raises(NotTakenError, match=reason):
            line.put(outgoing(refused), counts.append)
        # the line is good for further files, and one that arrived before is not lost by going again
        again = line.put(outgoing(taken, before=True), counts.append)
    assert taken.stat().st_size in counts
    assert ("had arrived" in again) is (kind != "marketplace")
    there = tmp_path / kind / folder
    shown = [path for path in there.iterdir() if path.is_file() and path.name[0] != "."]
    assert [path.read_bytes() for path in shown] == [taken.read_bytes()]


@pytest.mark.parametrize("kind", ARRIVED)
def test_other_bytes_under_a_name_take_its_place(stand_in, files, tmp_path, kind):
    way, (taken, _) = stand_in(kind), files[kind]
    put(way, outgoing(taken))
    dark = np.full((160, 384, 3) if kind == "sign" else (1800, 1600, 3), 12, np.uint8)
    dark = dark[:, :1200] if kind == "lab" else dark
    options = {"dpi": (300, 300)} if kind == "lab" else {}
    other = samples.save(tmp_path / "other.jpg", dark, **options)
    put(way, outgoing(other, taken.name, before=True))
    arrived = tmp_path / kind / ARRIVED[kind][0] / taken.name
    assert arrived.read_bytes() == other.read_bytes()


@pytest.mark.parametrize("kind", ARRIVED)
@pytest.mark.parametrize(
    ("fault", "error"), [("break-off", BrokenLineError), ("refuse", NotTakenError)]
)
def test_faults_are_met_and_leave_nothing_half_there(stand_in, files, tmp_path, kind, fault, error):
    way, (taken, _) = stand_in(kind, fault), files[kind]
    if fault == "break-off":  # the first goes through, the second drops, the third goes again
        put(way, outgoing(taken))
    with pytest.raises(error, match=r"broke|nothing is taken today"):
        put(way, outgoing(taken, "second.jpg"))
    there = [path.name for path in (tmp_path / kind).rglob("*.jpg")]
    assert there == ([taken.name] if fault == "break-off" else [])
    if fault == "break-off":
        assert put(way, outgoing(taken, "second.jpg", before=True))


@pytest.mark.parametrize("kind", ARRIVED)
def test_a_wrong_secret_or_none_lets_nobody_in(stand_in, files, monkeypatch, kind):
    way, (taken, _) = stand_in(kind), files[kind]
    with pytest.raises(NotReadyError, match=r"does not let .* in with .*env:QUAY_SECRET"):
        put(way, outgoing(taken), "wrong")
    monkeypatch.delenv("QUAY_SECRET")
    with pytest.raises(NotReadyError, match="no secret in the environment under QUAY_SECRET"):
        put(way, outgoing(taken))


def test_no_password_is_offered_before_the_host_is_known(stand_in, files, tmp_path):
    way, (taken, _) = stand_in("lab"), files["lab"]
    unknown = way.model_copy(update={"host_key": None})
    with pytest.raises(NotReadyError, match=r"is not known yet\. It shows ssh-ed25519") as refused:
        put(unknown, outgoing(taken), "lantern")
    assert refused.value.host_key == way.host_key
    other = way.model_copy(update={"host_key": _other_key()})
    with pytest.raises(
        NotReadyError, match="shows another key than the one that is known"
    ) as refused:
        put(other, outgoing(taken), "lantern")
    assert refused.value.host_key == way.host_key
    assert list((tmp_path / "lab").glob("*.jpg")) == []
    damaged = way.model_copy(update={"host_key": "ssh-ed25519 AAAA"})
    with pytest.raises(NotReadyError, match="can't be read"):
        put(damaged, outgoing(taken))


def _other_key():
    import asyncssh

    key = asyncssh.generate_private_key("ssh-ed25519")
    return " ".join(key.export_public_key("openssh").decode().split()[:2])


def test_a_folder_keeps_what_is_there_and_one_that_is_away_is_waited_for(files, tmp_path):
    taken, other = files["lab"]
    there = tmp_path / "drive"
    way = FolderWay(path=str(there))
    with pytest.raises(BrokenLineError, match="isn't there; connect its drive"):
        put(way, outgoing(taken))
    assert not there.exists()
    there.mkdir()
    assert put(way, outgoing(taken)).startswith("arrived, ")
    assert put(way, outgoing(taken)).startswith("was there already, ")
    assert "as print-2.jpg" in put(way, outgoing(other, "print.jpg"))
    assert (there / "print.jpg").read_bytes() == taken.read_bytes()
    assert (there / "print-2.jpg").read_bytes() == other.read_bytes()
    with pytest.raises(FileNotFoundError):
        put(way, Outgoing(tmp_path / "gone.jpg", "gone.jpg", 1, "00", "image/jpeg"))


@contextmanager
def answering(status, headers=(), body=b"", tls=None):
    """A server that answers every file the same; give its address and what it was told."""
    told = []

    class Answers(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def do_PUT(self):
            self.rfile.read(int(self.headers["Content-Length"]))
            told.append(dict(self.headers))
            self.send_response(status)
            for name, value in (*headers, ("Content-Length", str(len(body)))):
                self.send_header(name, value)
            self.end_headers()
            self.wfile.write(body)

        @override
        def log_message(self, *_):
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Answers)
    if tls is not None:
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.load_cert_chain(*tls)
        server.socket = context.wrap_socket(server.socket, server_side=True)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http{'s' if tls else ''}://127.0.0.1:{server.server_port}/in", told
    finally:
        server.shutdown()
        server.server_close()


PROBLEM = b'{"title": "No", "detail": "too dark\\nfor this page"}'


@pytest.mark.parametrize(
    ("status", "headers", "body", "error", "words", "wait"),
    [
        (200, (), b"", None, "accepted (200), digest sent along", None),
        (201, (), b'{"ticket": "q-7"}', None, "accepted, ticket q-7", None),
        (204, (), b"", None, "accepted (204)", None),
        (400, (), PROBLEM, NotTakenError, "too dark for this page", None),
        (404, (), b"<html>", NotTakenError, "404", None),
        (401, (), b"", NotReadyError, "does not let you in with env:QUAY_SECRET", None),
        (302, (("Location", "http://far.example/"),), b"", NotReadyError, "leads on to http://far.example/", None),
        (429, (("Retry-After", "7"),), b"", BrokenLineError, "429", 7.0),
        (503, (("Retry-After", "99999999"),), PROBLEM, BrokenLineError, "too dark", 3600.0),
        (503, (("Retry-After", "soon"),), b"", BrokenLineError, "503", None),
        (408, (), b"", BrokenLineError, "408", None),
        (507, (), b"", BrokenLineError, "507", None),
    ],
)  # fmt: skip
def test_an_answer_of_http_means_what_it_says(files, status, headers, body, error, words, wait):
    file = outgoing(files["lab"][0], "quay ä.jpg")
    with answering(status, headers, body) as (url, told):
        way = HttpWay(url=url, secret="env:QUAY_SECRET")
        if error is None:
            assert words in put(way, file, "lantern %ü")
        else:
            with pytest.raises(error) as refused:
                put(way, file, "lantern %ü")
            assert words in str(refused.value)
            assert getattr(refused.value, "wait", None) == wait
    assert len(told) == 1
    assert told[0]["Authorization"] == "Bearer lantern%20%25%C3%BC"
    assert told[0]["Content-Digest"].startswith("sha-256=:")
    assert told[0]["Content-Length"] == str(file.bytes)


def test_a_way_that_leads_nowhere_is_tried_again_and_an_authority_must_be_there(files, tmp_path):
    file = outgoing(files["lab"][0])
    with pytest.raises(BrokenLineError, match="can't be reached"):
        put(HttpWay(url="http://127.0.0.1:9/"), file)
    with pytest.raises(NotReadyError, match="authority"):
        put(HttpWay(url="https://127.0.0.1:9/", authority=str(tmp_path / "none.pem")), file)


@pytest.mark.parametrize("kind", ["marketplace", "lab"])
def test_a_speed_that_is_asked_is_kept(stand_in, files, monkeypatch, kind):
    slept: list[float] = []
    clock = SimpleNamespace(monotonic=lambda: 0.0, sleep=slept.append)  # which stands still
    monkeypatch.setattr("oak_ledge.receivers.line.time", clock)
    way = stand_in(kind).model_copy(update={"at_most_per_second": 100_000})
    file = outgoing(samples.photo(files["lab"][0].with_name("w.jpg"), 2400, 3600, dpi=(300, 300)))
    with open_line(way) as line, suppress(NotTakenError):
        line.put(file, lambda count: None)
    # each piece waits until those before it are gone
    assert slept == sorted(slept)
    assert slept[-1] == pytest.approx(file.bytes / 100_000, abs=CHUNK / 100_000)


@pytest.mark.parametrize("kind", ["lab", "marketplace"])
def test_a_receiver_that_falls_silent_is_a_broken_line(stand_in, files, monkeypatch, kind):
    monkeypatch.setattr("oak_ledge.receivers.http.SILENCE", 0.4)
    monkeypatch.setattr("oak_ledge.receivers.sftp.SILENCE", 0.4)
    monkeypatch.setattr("oak_ledge.receivers.sftp._LOOK", 0.1)
    for room in ("sftp", "web"):
        monkeypatch.setattr(f"oak_ledge.receivers.stand_ins.{room}.SLOW", 5)
    way = stand_in(kind, "slow")
    with pytest.raises(BrokenLineError, match=r"nothing was heard|broke"):
        put(way, outgoing(files[kind][0]))


def authority(folder):
    """A self-made authority that vouches for this machine; give its certificate's and key's files."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "quay")])
    here = x509.SubjectAlternativeName([x509.IPAddress(ip_address("127.0.0.1"))])
    certificate = (
        x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(datetime(2020, 1, 1, tzinfo=UTC))
        .not_valid_after(datetime(2100, 1, 1, tzinfo=UTC))
        .add_extension(here, critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=None), critical=True)
        .sign(key, hashes.SHA256())
    )
    pem, secret = folder / "quay.pem", folder / "quay.key"
    pem.write_bytes(certificate.public_bytes(Encoding.PEM))
    form = PrivateFormat.PKCS8
    secret.write_bytes(key.private_bytes(Encoding.PEM, form, NoEncryption()))
    return pem, secret


def test_a_certificate_is_checked_and_an_authority_of_ones_own_can_be_named(files, tmp_path):
    pem, secret = authority(tmp_path)
    file = outgoing(files["lab"][0])
    with answering(201, tls=(pem, secret)) as (url, told):
        with pytest.raises(NotReadyError, match=r"certificate of 127\.0\.0\.1 can't be trusted"):
            put(HttpWay(url=url, secret="env:QUAY_SECRET"), file, "lantern")
        assert told == []
        way = HttpWay(url=url, secret="env:QUAY_SECRET", authority=str(pem))
        assert "accepted (201)" in put(way, file, "lantern")
        assert len(told) == 1
