"""The only place where units are converted."""

from __future__ import annotations

PSI_IN_KPA = 6.894757
BAR_IN_KPA = 100.0
INCH_IN_MM = 25.4
KELVIN_AT_0_C = 273.15


def psi_to_kpa(pressure_psi: float) -> float:
    """Pounds per square inch [psi] to kilopascal [kPa].

    Parameters
    ----------
    pressure_psi : float [psi], gauge
    """
    return pressure_psi * PSI_IN_KPA


def psi_to_bar(pressure_psi: float) -> float:
    """Pounds per square inch [psi] to bar [bar].

    Parameters
    ----------
    pressure_psi : float [psi], gauge
    """
    return pressure_psi * PSI_IN_KPA / BAR_IN_KPA


def bar_to_psi(pressure_bar: float) -> float:
    """Bar [bar] to pounds per square inch [psi].

    Parameters
    ----------
    pressure_bar : float [bar], gauge
    """
    return pressure_bar * BAR_IN_KPA / PSI_IN_KPA


def mm_to_inch(length_mm: float) -> float:
    """Millimetre [mm] to inch [in].

    Parameters
    ----------
    length_mm : float [mm]
    """
    return length_mm / INCH_IN_MM


def drops_to_ml(drops: float, *, drop_ul: float) -> float:
    """Drops of `drop_ul` microlitres [µl] to millilitres [ml].

    Parameters
    ----------
    drops : float, number of drops
    """
    return drops * drop_ul / 1000.0


def ml_to_drops(volume_ml: float, *, drop_ul: float) -> float:
    """Millilitres [ml] to drops of `drop_ul` microlitres [µl].

    Parameters
    ----------
    volume_ml : float [ml]
    """
    return volume_ml * 1000.0 / drop_ul


def celsius_to_kelvin(temperature_c: float) -> float:
    """Degrees Celsius [°C] to kelvin [K].

    Parameters
    ----------
    temperature_c : float [°C]
    """
    return temperature_c + KELVIN_AT_0_C


def celsius_to_fahrenheit(temperature_c: float) -> float:
    """Degrees Celsius [°C] to degrees Fahrenheit [°F].

    Parameters
    ----------
    temperature_c : float [°C]
    """
    return temperature_c * 1.8 + 32.0
