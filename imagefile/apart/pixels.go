package apart

import (
	"context"
	"fmt"
	"time"
	"unsafe"

	"episema/core/raster"
	"episema/imagefile"
)

// bytesOf sees shares as bytes.
func bytesOf(pix []uint16) []byte {
	return unsafe.Slice((*byte)(unsafe.Pointer(unsafe.SliceData(pix))), 2*len(pix))
}

func maskOf(a *answer) (*raster.Mask, error) {
	if a.W < 1 || a.H < 1 || len(a.Data) != 2*a.W*a.H {
		return nil, fmt.Errorf("what reads files gave %d bytes for %d x %d pixels", len(a.Data), a.W, a.H)
	}
	m := raster.NewMask(a.W, a.H)
	copy(bytesOf(m.Pix), a.Data)
	return m, nil
}

// ReadMask is imagefile.ReadMask of a file that has to be of a size: another is refused before it is decoded. 0 x 0 is any.
func (o *Pool) ReadMask(ctx context.Context, path string, w, h int) (*raster.Mask, error) {
	lim := imagefile.DefaultLimits()
	a, err := o.run(ctx, budget(lim), call{Op: "mask", Path: path, Limits: lim, W: w, H: h}, "")
	if err != nil {
		return nil, err
	}
	return maskOf(a)
}

// EmbeddedDepth is imagefile.EmbeddedDepth; nil where there is none.
func (o *Pool) EmbeddedDepth(ctx context.Context, path string) (*raster.Mask, error) {
	a, err := o.run(ctx, bounds{memory: room + 512*mib, wall: 20 * time.Second}, call{Op: "depth", Path: path}, "")
	if err != nil || a.W == 0 {
		return nil, err
	}
	return maskOf(a)
}
