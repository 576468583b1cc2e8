"""A certificate of Haze's own for tablets: made once, renewed before it ends or moves."""

from __future__ import annotations

import os
import socket
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

LASTS = timedelta(days=397)  # longer ones some browsers refuse
ANEW_BEFORE = timedelta(days=14)
NAME = "Haze at the bench"


@dataclass(frozen=True, slots=True)
class Certificate:
    """Files of certificate and key (PEM), and what a painter compares."""

    certificate: Path
    key: Path
    fingerprint: str


def certificate_for(folder: Path, address: str) -> Certificate:
    """The certificate for an address, from the folder when it still holds.

    Parameters
    ----------
    folder : where certificate and key are kept, readable for its owner only
    address : IP address tablets come to
    """
    folder.mkdir(parents=True, exist_ok=True)
    held, key = folder / "certificate.pem", folder / "key.pem"
    found = _held(held, address) if key.exists() else None
    if found is None:
        found = _made(held, key, address)
    return Certificate(held, key, _fingerprint(found))


def _held(path: Path, address: str) -> x509.Certificate | None:
    try:
        found = x509.load_pem_x509_certificate(path.read_bytes())
        names = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (OSError, ValueError, x509.ExtensionNotFound):
        return None
    fresh = found.not_valid_after_utc - ANEW_BEFORE > datetime.now(UTC)
    known = ip_address(address) in names.get_values_for_type(x509.IPAddress)
    return found if fresh and known else None


def _made(path: Path, key_path: Path, address: str) -> x509.Certificate:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, NAME)])
    at = datetime.now(UTC)
    names = x509.SubjectAlternativeName(
        [x509.IPAddress(ip_address(address)), x509.DNSName(socket.gethostname())]
    )
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(at - timedelta(days=1))
        .not_valid_after(at + LASTS)
        .add_extension(names, critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(key, hashes.SHA256())
    )
    secret = key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )
    _write_own(key_path, secret)
    _write_own(path, made.public_bytes(serialization.Encoding.PEM))
    return made


def _write_own(path: Path, data: bytes) -> None:
    """Write a file only its owner can read, whole or not at all."""
    part = path.with_suffix(".part")
    part.unlink(missing_ok=True)
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)


def _fingerprint(found: x509.Certificate) -> str:
    digest = found.fingerprint(hashes.SHA256()).hex().upper()
    return " ".join(digest[i : i + 4] for i in range(0, len(digest), 4))


def address_here(host: str) -> str:
    """The address tablets come to when every address is listened on.

    Parameters
    ----------
    host : what was asked for; one address is taken as it is
    """
    if host not in ("0.0.0.0", "::"):
        return str(ip_address(socket.gethostbyname(host)))
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        try:
            asked.connect(("192.0.2.1", 9))  # nothing is sent; it tells the own address
            return str(asked.getsockname()[0])
        except OSError:
            return socket.gethostbyname(socket.gethostname())
