"""Runs a general image library's non-local means over raw RGB files, for the benchmark alone.

Reads lines "in out width height h hColor" and answers with the milliseconds each took."""
import sys
import time

import cv2
import numpy

for line in sys.stdin:
    source, target, width, height, h, h_colour = line.split()
    image = numpy.fromfile(source, numpy.uint8).reshape(int(height), int(width), 3)
    image = cv2.cvtColor(image, cv2.COLOR_RGB2BGR)
    start = time.perf_counter()
    done = cv2.fastNlMeansDenoisingColored(image, None, float(h), float(h_colour), 7, 21)
    elapsed = time.perf_counter() - start
    cv2.cvtColor(done, cv2.COLOR_BGR2RGB).tofile(target)
    print(elapsed * 1000, flush=True)
