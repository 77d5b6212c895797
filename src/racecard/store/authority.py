"""The shed's own small certificate authority: one root, made once, and a certificate to serve with.

The root's key never leaves its file, which only this user can read. Phones that trust the root can
then open the page without a warning and keep it for a greenhouse without signal.
"""

import ipaddress
import os
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

_ROOT_DAYS = 3650
_SERVE_DAYS = 390
"""Phones refuse certificates that run longer than about 13 months (common practice)."""
_RENEW_DAYS = 30


@dataclass(frozen=True, slots=True)
class Served:
    """Files a server needs, the root to offer, and the root's fingerprint in pairs."""

    certificate: Path
    key: Path
    root: Path
    fingerprint: str


def certificate_for(folder: Path, hosts: list[str], now: datetime) -> Served:
    """A certificate for these names and addresses, signed by the shed's root.

    The root is made once; the certificate again where a host is new or it soon runs out.

    Args:
        folder: folder of the shed; the files lie in its `tls`.
        hosts: names and addresses the server is reached by.
        now: the clock.
    """
    home = folder / "tls"
    home.mkdir(mode=0o700, parents=True, exist_ok=True)
    root, root_key = _root(home, hosts, now)
    paths = Served(home / "server.crt", home / "server.key", home / "root.crt", _print(root))
    if not _still_good(paths, root, hosts, now):
        _issue(paths, root, root_key, hosts, now)
    return paths


def _root(
    home: Path, hosts: list[str], now: datetime
) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    """The root, made anew where it has run out or does not bind itself to the shed's own addresses.

    A root that a phone trusts could otherwise vouch for any site; this one is good for the names of
    this machine and for addresses of private networks, and nothing else.
    """
    cert_file, key_file = home / "root.crt", home / "root.key"
    if cert_file.is_file() and key_file.is_file():
        cert = x509.load_pem_x509_certificate(cert_file.read_bytes())
        key = serialization.load_pem_private_key(key_file.read_bytes(), None)
        if (
            isinstance(key, ec.EllipticCurvePrivateKey)
            and cert.not_valid_after_utc > now + timedelta(days=_RENEW_DAYS)
            and _covers(cert, hosts)
        ):
            return cert, key
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name(
        [x509.NameAttribute(NameOID.COMMON_NAME, f"Racecard shed root {now:%Y-%m-%d}")]
    )
    cert = (
        _builder(name, name, key.public_key(), now, _ROOT_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(x509.NameConstraints(_own(hosts), None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(key_file, _pem(key))
    _write(cert_file, cert.public_bytes(serialization.Encoding.PEM))
    return cert, key


_PRIVATE = tuple(
    ipaddress.ip_network(n)
    for n in ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "fc00::/7", "fe80::/10")
)  # fmt: skip
"""Networks no address of the wide world lies in: this machine's may change within them."""


def _own(hosts: list[str]) -> list[x509.GeneralName]:
    """What the root may vouch for: the names of this machine, private networks, and an address beyond them that it has."""
    out: list[x509.GeneralName] = [x509.IPAddress(n) for n in _PRIVATE]
    for host in hosts:
        try:
            address = ipaddress.ip_address(host)
        except ValueError:
            out.append(x509.DNSName(host))
            continue
        if not any(address in n for n in _PRIVATE):
            out.append(x509.IPAddress(ipaddress.ip_network(address)))
    return out


def _covers(root: x509.Certificate, hosts: list[str]) -> bool:
    try:
        bound = root.extensions.get_extension_for_class(x509.NameConstraints).value
    except x509.ExtensionNotFound:
        return False
    return set(_own(hosts)) <= set(bound.permitted_subtrees or ())


def _issue(
    paths: Served,
    root: x509.Certificate,
    root_key: ec.EllipticCurvePrivateKey,
    hosts: list[str],
    now: datetime,
) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Racecard shed")])
    cert = (
        _builder(name, root.subject, key.public_key(), now, _SERVE_DAYS)
        .add_extension(x509.SubjectAlternativeName([_general(h) for h in hosts]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(root_key.public_key()),
            critical=False,
        )
        .sign(root_key, hashes.SHA256())
    )
    _write(paths.key, _pem(key))
    _write(paths.certificate, cert.public_bytes(serialization.Encoding.PEM))


def _builder(
    name: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePublicKey, now: datetime, days: int
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=days))
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=True, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, key_cert_sign=signs, crl_sign=signs,
        encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _general(host: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(host))
    except ValueError:
        return x509.DNSName(host)


def _still_good(paths: Served, root: x509.Certificate, hosts: list[str], now: datetime) -> bool:
    if not (paths.certificate.is_file() and paths.key.is_file()):
        return False
    cert = x509.load_pem_x509_certificate(paths.certificate.read_bytes())
    names = cert.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    try:
        cert.verify_directly_issued_by(root)
    except Exception:
        return False
    wanted = {_general(h) for h in hosts}
    return wanted <= set(names) and cert.not_valid_after_utc > now + timedelta(days=_RENEW_DAYS)


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(path: Path, content: bytes) -> None:
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(content)


def _print(cert: x509.Certificate) -> str:
    digits = cert.fingerprint(hashes.SHA256()).hex().upper()
    return ":".join(digits[i : i + 2] for i in range(0, len(digits), 2))
