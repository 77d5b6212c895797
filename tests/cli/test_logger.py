"""The stand-in bench logger posts to a running shed; a shared shed makes its root once."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner
from cryptography import x509
from cryptography.hazmat.primitives.serialization import load_pem_private_key
from cryptography.x509.verification import PolicyBuilder, Store

from racecard.cli.main import app
from racecard.store.authority import certificate_for
from tests.cli.test_main import free_port, get, serve

NOW = datetime(2026, 11, 24, tzinfo=UTC)
HOSTS = ["192.168.1.7", "127.0.0.1", "localhost"]


def test_the_logger_posts_and_posting_again_changes_nothing(tmp_path: Path) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    run = CliRunner()
    command = ["logger", "--port", str(port), "--hours", "6", "--every", "60", "--place", "bench 2"]
    found = run.invoke(app, [*command, "--fault", "spikes"])
    assert "readings of bench 2 posted, with spikes." in found.output
    places = get(port, "/api/places")
    assert {p["quantity"] for p in places} == {"temperature", "humidity", "light"}  # type: ignore[attr-defined]
    wrong = run.invoke(app, [*command, "--fault", "gremlins"])
    assert wrong.exit_code == 2
    assert "A fault is one of" in wrong.output
    server.terminate()
    server.wait()
    silent = run.invoke(app, command)
    assert silent.exit_code == 2
    assert f"No shed answers on port {port}" in silent.output


def test_the_certificate_is_signed_by_a_root_that_is_made_once(tmp_path: Path) -> None:
    served = certificate_for(tmp_path, HOSTS, NOW)
    root, cert = served.root.read_bytes(), served.certificate.read_bytes()
    assert certificate_for(tmp_path, HOSTS, NOW).certificate.read_bytes() == cert
    other = certificate_for(tmp_path, ["10.0.0.9", *HOSTS], NOW)
    assert other.root.read_bytes() == root
    assert other.certificate.read_bytes() != cert
    later = certificate_for(tmp_path, HOSTS, NOW + timedelta(days=380))
    assert later.root.read_bytes() == root
    assert later.certificate.read_bytes() != cert


@pytest.mark.parametrize("host", HOSTS)
def test_a_strict_verifier_accepts_it_for_its_own_names_only(tmp_path: Path, host: str) -> None:
    """The X.509 path validation of the cryptography package, as browsers follow it."""
    import ipaddress

    served = certificate_for(tmp_path, HOSTS, NOW)
    store = Store([x509.load_pem_x509_certificate(served.root.read_bytes())])
    leaf = x509.load_pem_x509_certificate(served.certificate.read_bytes())

    def subject(name: str) -> x509.IPAddress | x509.DNSName:
        try:
            return x509.IPAddress(ipaddress.ip_address(name))
        except ValueError:
            return x509.DNSName(name)

    builder = PolicyBuilder().store(store).time(NOW + timedelta(days=1))
    assert builder.build_server_verifier(subject(host)).verify(leaf, [])
    with pytest.raises(Exception, match=r"SAN|match|name"):
        builder.build_server_verifier(subject("10.9.9.9")).verify(leaf, [])
    assert (leaf.not_valid_after_utc - leaf.not_valid_before_utc).days < 398


def test_only_this_user_reads_the_keys(tmp_path: Path) -> None:
    certificate_for(tmp_path, HOSTS, NOW)
    for name in ("root.key", "server.key"):
        path = tmp_path / "tls" / name
        assert path.stat().st_mode & 0o077 == 0
        load_pem_private_key(path.read_bytes(), None)
