package develop

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"hash/maphash"
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/raster"
)

// Source is a picture to develop: its pixels at halved sizes and the space they are in.
type Source struct {
	isolate.Pyramid
	Space *colour.Space
	Masks map[string]*raster.Mask // files that mask picks name
	Depth *raster.Mask            // nearness; nil where there is none
	// DepthKey tells the depth map from any other.
	DepthKey string
	// Done, where given, ends work early once it is closed, with raster.ErrStopped; painting then gives pixels worth nothing.
	Done raster.Done
}

// learnAt is the long side of the level from which a part's own colour and measurements are taken.
const learnAt = 700

// LearnLevel returns the level at which parts are learned and measured.
func (s Source) LearnLevel() int {
	for l := range s.Levels() {
		if w, h := s.Size(l); max(w, h) <= learnAt {
			return l
		}
	}
	return s.Levels() - 1
}

// LearningPicture returns the whole picture at the learning level.
func (s Source) LearningPicture(memo Memo) (*raster.RGB, error) {
	level := s.LearnLevel()
	w, h := s.Size(level)
	v, err := memo.Do("learning level", func(raster.Done) (any, error) { return s.Linear(level, raster.Rect{X1: w, Y1: h}) })
	if err != nil {
		return nil, err
	}
	return v.(*raster.RGB), nil
}

// Memo remembers what is costly, for one picture. make is called where the key is not known (any more). What it is given is
// closed once nobody waits for the result.
type Memo interface {
	Do(key string, make func(done raster.Done) (any, error)) (any, error)
}

type noMemo struct{ done raster.Done }

func (m noMemo) Do(_ string, f func(done raster.Done) (any, error)) (any, error) { return f(m.done) }

// keyOf is the key of what follows from these values and nothing else. They are values that JSON can write.
func keyOf(what string, values ...any) string {
	b, err := json.Marshal(values)
	if err != nil {
		panic(err) // a value that is none: a fault of the program, not of a document
	}
	sum := sha256.Sum256(b)
	return what + " " + hex.EncodeToString(sum[:])
}

// keyOfPicks gives picks as a value for keyOf. The points of their strokes, of which there may be a hundred thousand, stand in it as 128
// bits: JSON takes 20 ms to write so many numbers, which is longer than a step of a slider takes.
func keyOfPicks(picks []isolate.Pick) any {
	var p points
	for i := range p.hash {
		p.hash[i].SetSeed(pointSeeds[i])
	}
	bare := slices.Clone(picks)
	for i := range bare {
		q := &bare[i]
		q.Strokes, q.Inside, q.Outside = p.takenFrom(q.Strokes), p.takenFrom(q.Inside), p.takenFrom(q.Outside)
	}
	return []any{bare, p.hash[0].Sum64(), p.hash[1].Sum64()}
}

// pointSeeds are those of a process: what is remembered by such keys ends with it.
var pointSeeds = [2]maphash.Seed{maphash.MakeSeed(), maphash.MakeSeed()}

// points sums up where strokes go, and how hard a pen was pressed there.
type points struct {
	hash [2]maphash.Hash
	row  []byte
}

// takenFrom adds strokes. It returns them without what is in the sums.
func (p *points) takenFrom(strokes []isolate.Stroke) []isolate.Stroke {
	bare := slices.Clone(strokes)
	for i := range bare {
		s := &bare[i]
		p.row = p.row[:0]
		p.add(float64(len(s.Points)), float64(len(s.Pressure)))
		for _, at := range s.Points {
			p.add(at[:]...)
		}
		p.add(s.Pressure...)
		for k := range p.hash {
			p.hash[k].Write(p.row)
		}
		s.Points, s.Pressure = nil, nil
	}
	return bare
}

func (p *points) add(values ...float64) {
	for _, v := range values {
		p.row = binary.LittleEndian.AppendUint64(p.row, math.Float64bits(v))
	}
}
