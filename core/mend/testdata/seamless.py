"""Writes seamless.json: python3 seamless.py > seamless.json (Debian's python3-scipy).

The Poisson equation of seamless cloning (Perez, Gangnet and Blake, 2003), solved as one sparse linear system: unknown are the pixels
inside an L, their neighbours outside are the picture's, and their gradients are those of the cover.
"""
import json
import sys

import numpy as np
import scipy
from scipy.sparse import lil_matrix
from scipy.sparse.linalg import spsolve

W, H, DX, DY = 80, 64, 21, -9
y, x = np.mgrid[0:H, 0:W].astype(float)


def picture(x, y):
    return 0.5 + 0.2 * np.sin(x / 9) + 0.15 * np.cos(y / 7 + x / 23) + 0.04 * np.sin(1.3 * x + 0.7 * y)


inside = ((x >= 14) & (x < 46) & (y >= 20) & (y < 50)) & ~((x >= 30) & (y < 34))
dst, src = picture(x, y), picture(x + DX, y + DY)
at = -np.ones((H, W), int)
at[inside] = np.arange(inside.sum())
a, b = lil_matrix((inside.sum(), inside.sum())), np.zeros(inside.sum())
for r, c in np.argwhere(inside):
    i = at[r, c]
    for rr, cc in ((r - 1, c), (r + 1, c), (r, c - 1), (r, c + 1)):
        a[i, i] += 1
        b[i] += src[r, c] - src[rr, cc]
        if inside[rr, cc]:
            a[i, at[rr, cc]] = -1
        else:
            b[i] += dst[rr, cc]
out = dst.copy()
out[inside] = spsolve(a.tocsr(), b)
json.dump({"made": "with seamless.py, SciPy " + scipy.__version__, "w": W, "h": H, "shift": [DX, DY],
           "values": [[int(c), int(r), round(out[r, c], 6)] for r, c in np.argwhere(inside)[::3]]}, sys.stdout)
