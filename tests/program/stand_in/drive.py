"""Gives programs step after step of a feed, and says what came of each; a list of both is given."""

import sys


def number(token):
    return None if token == "-" else float(token) if "." in token else int(token)


def drive(folder, name):
    p = __import__(name)
    if hasattr(p, "write_kept"):
        # On paper it is kept in memory alone.
        p.write_kept = lambda place, value: p.KEPT.update({str(place): value})
    with open(folder + "/" + name + ".feed") as feed:
        for line in feed:
            one_step(p, iter(line.split()))


def one_step(p, tokens):
    now, first, alive, all_off, clock, day = [number(next(tokens)) for _ in range(6)]
    p.m.alive, p.m.all_off = bool(alive), bool(all_off)
    p.m.clock = None if clock is None else (clock, day)
    for sense in p.INPUTS:
        value = number(next(tokens))
        sense.reading = None if value is None else float(value)
    for _ in range(int(next(tokens))):
        place, value = int(next(tokens)), int(next(tokens))
        p.m.heard.append((p.COMMANDS[place], None if value == 2 else value == 1))
    for _ in range(int(next(tokens))):
        place, level = int(next(tokens)), int(next(tokens))
        p.m.asked.append((p.CHANNELS[place], level))
    for _ in range(int(next(tokens))):
        p.m.cleared.append(p.CHANNELS[int(next(tokens))])
    p.step(now, bool(first))
    p.say_changes()
    states = [f"{c.written}/{c.confirm.state if c.confirm else '-'}" for c in p.CHANNELS]
    print(" ".join(["#"] + states))


if __name__ == "__main__":
    here, folder, listed = sys.argv[1:4]
    sys.path.insert(0, here)
    sys.path.insert(0, folder)
    with open(listed) as names:
        for name in names.read().split():
            print("= " + name)
            drive(folder, name)
