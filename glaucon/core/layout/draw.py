"""Draws one SVG document, from standard input to a PNG on standard output: a process of its own, for it may not end.

Run by path, with nothing of Glaucon imported, so that it starts at once. Its arguments: width and height in pixels, the
seconds of processor time and the bytes of memory it may take.
"""

import resource
import sys

import resvg_py


def main() -> None:
    """Draw it, within its bounds."""
    width, height, seconds, most = (int(one) for one in sys.argv[1:])
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        drawn = resvg_py.svg_to_bytes(
            svg_string=sys.stdin.buffer.read().decode(), width=width, height=height, skip_system_fonts=True
        )
    except (ValueError, RuntimeError):
        sys.exit(1)
    sys.stdout.buffer.write(bytes(drawn))


if __name__ == "__main__":
    main()
