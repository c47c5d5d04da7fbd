package imagefile

/*
#include <stdlib.h>
#include "vips.h"
*/
import "C"

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"math"
	"os"
	"strconv"
	"strings"
	"unsafe"

	"episema/core/raster"
)

// EmbeddedDepth gives the nearness map that a phone's JPEG carries in the open Dynamic Depth layout (version
// 1.0; its names and the direction of its values are given from memory): further pictures follow the shown
// one in the file, listed in its XMP. nil without error where there is none.
func EmbeddedDepth(path string) (*raster.Mask, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	st, err := f.Stat()
	if err != nil {
		return nil, err
	}
	at, ok := depthItem(xmpOf(f), st.Size())
	if !ok {
		return nil, nil
	}
	tmp, err := os.CreateTemp("", "episema-depth-*")
	if err != nil {
		return nil, err
	}
	defer os.Remove(tmp.Name())
	defer tmp.Close()
	if _, err := io.Copy(tmp, io.NewSectionReader(f, at.start, at.length)); err != nil {
		return nil, err
	}
	m, err := ReadMask(tmp.Name())
	var bad *Rejected
	if errors.As(err, &bad) {
		return nil, nil // the photo is good; a depth map that is not does not take it away
	}
	if err != nil {
		return nil, err
	}
	for i, v := range m.Pix {
		m.Pix[i] = raster.Whole - v // the layout has near as 0
	}
	// The map lies as the picture was taken, and a tag says how that is turned when it is shown.
	if own, err := orientation(tmp.Name()); err != nil || own != 1 {
		return m, err
	}
	turn, err := orientation(path)
	return turned(m, turn), err
}

// orientation gives how a file's picture is turned when it is shown, as EXIF numbers it: 1 to 8.
func orientation(path string) (int, error) {
	c := C.CString(path)
	defer C.free(unsafe.Pointer(c))
	var info C.EpInfo
	if C.ep_inspect(c, &info) != 0 {
		return 0, rejected("the file cannot be read: %s", lastError())
	}
	return int(info.orientation), nil
}

// turned gives a mask turned and mirrored as an EXIF orientation says.
func turned(m *raster.Mask, orientation int) *raster.Mask {
	if orientation < 2 || orientation > 8 {
		return m
	}
	o := raster.NewMask(m.W, m.H)
	if orientation > 4 {
		o = raster.NewMask(m.H, m.W)
	}
	for y := range o.H {
		for x := range o.W {
			var sx, sy int
			switch orientation {
			case 2:
				sx, sy = m.W-1-x, y
			case 3:
				sx, sy = m.W-1-x, m.H-1-y
			case 4:
				sx, sy = x, m.H-1-y
			case 5:
				sx, sy = y, x
			case 6:
				sx, sy = y, m.H-1-x
			case 7:
				sx, sy = m.W-1-y, m.H-1-x
			case 8:
				sx, sy = m.W-1-y, x
			}
			o.Pix[y*o.W+x] = m.Pix[sy*m.W+sx]
		}
	}
	return o
}

// xmpOf reads the XMP packet of a JPEG (ISO 16684-1): an APP1 segment with its name in front.
func xmpOf(r io.ReaderAt) []byte {
	const name = "http://ns.adobe.com/xap/1.0/\x00"
	var head [4]byte
	if n, _ := r.ReadAt(head[:2], 0); n < 2 || head[0] != 0xff || head[1] != 0xd8 {
		return nil
	}
	for at := int64(2); ; {
		if n, _ := r.ReadAt(head[:], at); n < 4 || head[0] != 0xff || head[1] < 0xc0 || head[1] == 0xda {
			return nil
		}
		size := int64(head[2])<<8 | int64(head[3])
		if head[1] == 0xe1 && size > int64(len(name))+2 {
			b := make([]byte, size-2)
			if n, _ := r.ReadAt(b, at+4); n == len(b) && bytes.HasPrefix(b, []byte(name)) {
				return b[len(name):]
			}
		}
		at += 2 + size
	}
}

type fileSpan struct{ start, length int64 }

// depthItem finds the depth map among the pictures a packet lists: they stand at the end of the file.
func depthItem(xmp []byte, size int64) (fileSpan, bool) {
	items, uri := packetItems(xmp)
	if uri == "" || len(items) < 2 || len(items) > mostItems {
		return fileSpan{}, false
	}
	// From the last item backwards; the first is the picture itself.
	end := size
	for i := len(items) - 1; i > 0; i-- {
		it := items[i]
		if it.length <= 0 || it.length > end || it.padding < 0 || it.padding > end {
			return fileSpan{}, false
		}
		end -= it.padding
		if it.length > end {
			return fileSpan{}, false
		}
		end -= it.length
		if it.uri == uri {
			return fileSpan{end, it.length}, true
		}
	}
	return fileSpan{}, false
}

// packetItem is a picture that an XMP packet lists.
type packetItem struct {
	uri             string
	length, padding int64
}

// mostItems is how many pictures a packet lists at most.
const mostItems = 1000

// packetItems lists the pictures of a packet, a few too many where there are more than mostItems, and says which is the depth map.
func packetItems(xmp []byte) (items []packetItem, depthURI string) {
	d := xml.NewDecoder(bytes.NewReader(xmp))
	for len(items) <= mostItems {
		t, err := d.Token()
		if err != nil {
			break // the end, or a packet that is not well-formed: what was read counts
		}
		e, ok := t.(xml.StartElement)
		if !ok {
			continue
		}
		var it packetItem
		for _, a := range e.Attr {
			n, _ := strconv.ParseInt(strings.TrimSpace(a.Value), 10, 64)
			switch a.Name.Local {
			case "DepthURI":
				depthURI = a.Value
			case "DataURI":
				it.uri = a.Value
			case "Length":
				it.length = n
			case "Padding":
				it.padding = n
			}
		}
		switch e.Name.Local {
		case "Item":
			items = append(items, it)
		case "DepthURI":
			if t, err := d.Token(); err == nil {
				if s, ok := t.(xml.CharData); ok {
					depthURI = strings.TrimSpace(string(s))
				}
			}
		}
	}
	return items, depthURI
}

// SameProportions says whether a map fits a picture of w x h but for rounding.
func SameProportions(m *raster.Mask, w, h int) bool {
	return math.Abs(math.Log(float64(m.W)*float64(h)/(float64(m.H)*float64(w)))) < 0.03
}
