"""Makes reference.json: what general-purpose libraries say about small planes.

    apt-get install python3-scipy python3-skimage python3-opencv && python3 reference.py > reference.json
"""
import json

import cv2
import numpy as np
import scipy
import scipy.ndimage as ndi
import skimage
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra
from skimage.filters.rank import windowed_histogram
from skimage.measure import label, regionprops

rng = np.random.default_rng(5)
W, H = 26, 19
blobs = ndi.gaussian_filter(rng.standard_normal((H, W)), 1.6)
mask = (blobs > 0.05).astype(np.uint8)
mask[3, 3] = 1
mask[9:15, 6:14] = 1
mask[11:13, 8:11] = 0
mask[13, 12] = 0

areas = sorted((int(r.area) for r in regionprops(label(mask, connectivity=2))), reverse=True)
holes = label(1 - mask, connectivity=1)
frame = set(np.unique(np.concatenate([holes[0], holes[-1], holes[:, 0], holes[:, -1]])))
hole_areas = sorted((int(r.area) for r in regionprops(holes) if r.label not in frame), reverse=True)

signed = np.where(mask == 1, ndi.distance_transform_edt(mask) - 0.5, -(ndi.distance_transform_edt(1 - mask) - 0.5))
plane = rng.random((H, W)).astype(np.float32)
gauss = ndi.gaussian_filter(plane.astype(np.float64), 1.7, mode="nearest", truncate=3.0 * 1.0 + 0.5 / 1.7)

# Dilation by a disc of radius 2 (OpenCV).
yy, xx = np.mgrid[-2:3, -2:3]
disc = ((xx**2 + yy**2) <= 4).astype(np.uint8)
dilated = cv2.dilate(mask, disc)

# Ways over a picture whose steps cost as the geodesic's do (Dijkstra).
lab = np.stack([ndi.gaussian_filter(rng.standard_normal((H, W)), 1.2) * s for s in (0.5, 0.1, 0.1)], axis=-1).astype(np.float32)
beta, walk = 60.0, 0.002
rows, cols, cost = [], [], []
for y in range(H):
    for x in range(W):
        for dy, dx in ((0, 1), (1, 0), (1, 1), (1, -1)):
            y2, x2 = y + dy, x + dx
            if 0 <= y2 < H and 0 <= x2 < W:
                d = lab[y, x] - lab[y2, x2]
                d2 = d[0] ** 2 + 2.5 * (d[1] ** 2 + d[2] ** 2)
                rows.append(y * W + x)
                cols.append(y2 * W + x2)
                cost.append(1 - np.exp(-0.5 * beta * d2) + walk)
graph = coo_matrix((cost, (rows, cols)), shape=(W * H, W * H)).tocsr()
ways = dijkstra(graph, directed=False, indices=[5 * W + 4, 12 * W + 20]).min(axis=0)

# A guided filter written out from the paper's equations, window by window.
guide = rng.random((H, W, 3)).astype(np.float32) * 0.5
share = mask.astype(np.float64)
R = 2
a = np.zeros((H, W, 3))
b = np.zeros((H, W))
for y in range(H):
    for x in range(W):
        s = np.s_[max(0, y - R) : y + R + 1, max(0, x - R) : x + R + 1]
        I = guide[s].reshape(-1, 3).astype(np.float64)
        p = share[s].ravel()
        grain = 0.012 * I.mean() + 0.0012
        cov = np.cov(I.T, bias=True) + np.eye(3) * grain**2
        a[y, x] = np.linalg.solve(cov, (I * p[:, None]).mean(axis=0) - I.mean(axis=0) * p.mean())
        b[y, x] = p.mean() - a[y, x] @ I.mean(axis=0)
filtered = np.zeros((H, W))
for y in range(H):
    for x in range(W):
        s = np.s_[max(0, y - R) : y + R + 1, max(0, x - R) : x + R + 1]
        filtered[y, x] = a[s].reshape(-1, 3).mean(axis=0) @ guide[y, x] + b[s].mean()

# A boundary map: how much the mixtures of words before and after each pixel differ (chi-square of two histograms in a window), level or upright,
# the mean of two sizes.
WORDS = 5
words = np.digitize(ndi.gaussian_filter(rng.standard_normal((H, W)), 1.1), [-0.25, -0.1, 0.1, 0.25]).astype(np.uint8)


def mixture(r, upright):
    before = np.zeros((2 * r + 1, 2 * r + 1), np.uint8)
    after = before.copy()
    before[:, :r], after[:, r : 2 * r] = 1, 1
    p, q = (windowed_histogram(words, v.T if upright else v, n_bins=WORDS) for v in (before, after))
    chi = np.divide((p - q) ** 2, p + q, out=np.zeros_like(p), where=p + q > 0).sum(axis=2) / 2
    if upright:
        chi[0] = 0
    else:
        chi[:, 0] = 0  # there is nothing before
    return chi


boundary = np.maximum(mixture(2, False) + mixture(4, False), mixture(2, True) + mixture(4, True)) / 2

f = lambda v, d=5: [round(float(q), d) for q in np.asarray(v).ravel()]
print(json.dumps({
    "made_with": f"numpy {np.__version__}, scipy {scipy.__version__}, scikit-image {skimage.__version__}, OpenCV {cv2.__version__}",
    "w": W, "h": H, "mask": mask.ravel().tolist(), "areas": areas, "holes": hole_areas, "signed": f(signed),
    "plane": f(plane, 7), "gauss": f(gauss), "dilated": dilated.ravel().tolist(),
    "lab": f(lab, 7), "beta": beta, "starts": [5 * W + 4, 12 * W + 20], "ways": f(ways),
    "guide": f(guide, 7), "filtered": f(filtered), "words": words.ravel().tolist(), "boundary": f(boundary),
}))
