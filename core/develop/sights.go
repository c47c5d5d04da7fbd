package develop

import (
	"sync"

	"episema/core/raster"
	"episema/core/recolour"
)

// mostSights is what all sights of a picture take at most, in bytes: those of some 1.5 million pixels.
const mostSights = 64 << 20

// sights are those of a rectangle that is rendered again and again while a hand moves a colour, one for each part and figure.
type sights struct {
	key  string // tells the rectangle, and who has which pixel of it
	room *recolour.Room
	mu   sync.Mutex
	of   map[sightOf]*recolour.Sight
}

// sightOf names what is seen of a rectangle: a part's ground, or what a figure of its pattern covers, from 1.
type sightOf struct {
	part   string
	figure int
}

// lastSights are those of the rectangle that was rendered again last.
type lastSights struct {
	mu  sync.Mutex
	all *sights
}

// Bytes returns what they take in memory at most.
func (*lastSights) Bytes() int { return mostSights }

// at returns those of a key, and lets go of any other's.
func (l *lastSights) at(key string) *sights {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.all == nil || l.all.key != key {
		l.all = &sights{key: key, room: recolour.NewRoom(mostSights), of: map[sightOf]*recolour.Sight{}}
	}
	return l.all
}

// lastAsked is the key of what was rendered last. Most is rendered once.
type lastAsked struct {
	mu  sync.Mutex
	key string
}

// again reports whether the same was asked for last. Who is ahead asks for nothing.
func (l *lastAsked) again(key string, ahead bool) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	was := l.key
	if !ahead {
		l.key = key
	}
	return was == key
}

// sights returns what is kept of a canvas's rectangle; nil where nothing is.
func (d *Developed) sights(c *canvas) (*sights, error) {
	if !d.Again || c.Before != c.Given {
		return nil, nil
	}
	key := keyOf("seen", d.claimed, c.place, c.inner, c.Before.W, c.Before.H)
	v, err := d.memo.Do("last asked", func(raster.Done) (any, error) { return &lastAsked{}, nil })
	if err != nil || !v.(*lastAsked).again(key, d.Ahead) {
		return nil, err
	}
	if v, err = d.memo.Do("last sights", func(raster.Done) (any, error) { return &lastSights{}, nil }); err != nil {
		return nil, err
	}
	return v.(*lastSights).at(key), nil
}

// sight returns that of a part's ground, or of a figure of its pattern; nil for none.
func (s *sights) sight(part string, figure int) *recolour.Sight {
	if s == nil {
		return nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	of := sightOf{part, figure}
	if s.of[of] == nil {
		s.of[of] = recolour.NewSight(s.room)
	}
	return s.of[of]
}
