"""What figures count in, for the headings of a page's lists."""

from ironcage.desk.session import Session
from ironcage.units import Units


class InUnits:
    """Whatever shows figures of a session's job: in the units of that job as it is now."""

    session: Session

    @property
    def units(self) -> Units:
        """The builder's units."""
        return self.session.units

    def length_name(self) -> str:
        """What lengths count in."""
        return self.units.length_name

    def mass_name(self) -> str:
        """What masses count in."""
        return self.units.mass_unit

    def torque_name(self) -> str:
        """What torques count in."""
        return self.units.torque_name
