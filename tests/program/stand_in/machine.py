"""A board that exists only on paper: what is done to its pins is kept, what they read is set."""

CALLS = []
READS = {}


class Pin:
    IN, OUT, PULL_UP, IRQ_RISING, IRQ_FALLING = 0, 1, 2, 4, 8

    def __init__(self, number, mode=None, pull=None, value=None):
        self.number, self.level = number, value
        if mode == Pin.OUT:
            # As a board does it: the level that is given stands before the direction.
            CALLS.append(("level", number, value))
            CALLS.append(("output", number, 0))
        elif mode == Pin.IN:
            CALLS.append(("input", number, 1 if pull == Pin.PULL_UP else 0))

    def value(self, level=None):
        if level is None:
            return READS.get(self.number, 0)
        CALLS.append(("level", self.number, level))
        if len(CALLS) > 2000:
            # A long run has no use for what was done at its beginning.
            del CALLS[:]

    def irq(self, routine, edge):
        CALLS.append(("edge", self.number, 1 if edge == Pin.IRQ_RISING else 0))


class PWM:
    def __init__(self, pin, freq, duty_u16):
        self.number = pin.number
        CALLS.append(("hertz", self.number, freq))
        self.duty_u16(duty_u16)

    def duty_u16(self, duty):
        CALLS.append(("duty", self.number, duty))

    def duty_ns(self, width):
        CALLS.append(("width", self.number, width))


class ADC:
    def __init__(self, pin):
        self.number = pin.number

    def read_u16(self):
        return READS.get(self.number, 0)


class WDT:
    def __init__(self, timeout):
        CALLS.append(("watchdog", 0, timeout))

    def feed(self):
        pass
