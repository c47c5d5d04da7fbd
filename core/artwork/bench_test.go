package artwork

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"testing"
)

// many makes a drawing of n elements in 24 colours.
func many(n int) []byte {
	r := rand.New(rand.NewPCG(1, 2))
	var b bytes.Buffer
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1600 1200"><style>.a{stroke:#20242b}</style>`)
	for i := range n {
		fmt.Fprintf(&b, `<path id="p%d" class="a" fill="#%02x6a%02x" d="M%.2f %.2fc%.2f %.2f %.2f %.2f %.2f 0l%.2f %.2fz"/>`+"\n", i, i%6*40, i/6%4*60, r.Float64()*1600, r.Float64()*1200, r.Float64(), r.Float64(), r.Float64(), r.Float64(), r.Float64(), r.Float64(), r.Float64())
	}
	b.WriteString("</svg>")
	return b.Bytes()
}

func BenchmarkParse(b *testing.B) {
	src := many(50000)
	b.SetBytes(int64(len(src)))
	for b.Loop() {
		if _, err := Parse(src); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkEncodingXML is the yardstick of BenchmarkParse: the same file, merely parsed.
func BenchmarkEncodingXML(b *testing.B) {
	src := many(50000)
	b.SetBytes(int64(len(src)))
	for b.Loop() {
		d := xml.NewDecoder(bytes.NewReader(src))
		for {
			if _, err := d.Token(); errors.Is(err, io.EOF) {
				break
			} else if err != nil {
				b.Fatal(err)
			}
		}
	}
}
