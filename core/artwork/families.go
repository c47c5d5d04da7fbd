package artwork

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"episema/core/colour"
)

// Plan says what becomes of a drawing's colours: the families and what each shall get. It is what the command line writes
// and reads, see episema schema families.
type Plan struct {
	Families []Family `json:"families"`
}

// Family is a group of colours that are handled as one.
type Family struct {
	Name    string   `json:"name"`
	Main    string   `json:"main"` // the member that stands for it
	Held    bool     `json:"held"` // not one byte of it changes
	Members []Member `json:"members"`

	Target     string  `json:"target,omitempty"`     // any CSS Color 4 colour; without one only the shift counts
	How        string  `json:"how,omitempty"`        // alike (the default) or tints
	Hue        float64 `json:"hue,omitempty"`        // degrees, added in Oklch
	Saturation float64 `json:"saturation,omitempty"` // percent of chroma, -100..200
	Lightness  float64 `json:"lightness,omitempty"`  // of Oklch's 0..100, added
}

// Member is a colour of a family.
type Member struct {
	Colour string  `json:"colour"`
	Held   bool    `json:"held,omitempty"`
	Count  int     `json:"count,omitempty"` // things painted with it
	Area   float64 `json:"area,omitempty"`  // about, in the drawing's square units
}

// Ways in which members follow a target.
const (
	Alike = "alike"
	Tints = "tints"
)

// MaxFamilies bounds how many families a drawing is gathered into.
const MaxFamilies = 64

// most is how many colours are compared with each other; beyond it the rarest join the nearest.
const most = 600

// Validate says what is wrong with a plan.
func (p *Plan) Validate() error {
	seen := map[string]string{}
	if len(p.Families) > 10000 {
		return &Error{0, "there are over 10000 families"}
	}
	for i := range p.Families {
		f := &p.Families[i]
		where := fmt.Sprintf("family %d", i+1)
		if f.Name != "" {
			where = fmt.Sprintf("family %q", f.Name)
		}
		fail := func(format string, a ...any) error { return &Error{0, where + ": " + fmt.Sprintf(format, a...)} }
		switch {
		case f.How != "" && f.How != Alike && f.How != Tints:
			return fail("how is %q; use alike or tints", f.How)
		case !(f.Hue >= -360 && f.Hue <= 360):
			return fail("hue runs from -360 to 360 degrees")
		case !(f.Saturation >= -100 && f.Saturation <= 200):
			return fail("saturation runs from -100 to 200 percent")
		case !(f.Lightness >= -100 && f.Lightness <= 100):
			return fail("lightness runs from -100 to 100")
		}
		if f.Target != "" {
			if _, err := colour.ParseFrom(f.Target, f.origin()); err != nil {
				return fail("%v", err)
			}
		}
		for _, m := range f.Members {
			l, err := colour.ParseCSS(m.Colour)
			if err != nil {
				return fail("%v", err)
			}
			if in, ok := seen[Key(l)]; ok {
				return fail("%s is a member of %s already", m.Colour, in)
			}
			seen[Key(l)] = where
		}
	}
	return nil
}

// neutral is the CIELAB chroma below which a colour starts held: black, white and greys.
const neutral = 4

// Neutral says whether a colour is black, white or a grey.
func Neutral(l colour.Lab) bool { return l.Chroma() < neutral }

// Gather puts colours into n families by closeness; with n 0 it finds how many there are. What is neutral starts held, and
// so does what hold names.
func Gather(list []Colour, n int, hold []string) ([]Family, error) {
	held := map[string]bool{}
	for _, h := range hold {
		l, err := colour.ParseCSS(h)
		if err != nil {
			return nil, err
		}
		held[Key(l)] = true
	}
	if n < 0 || n > MaxFamilies {
		return nil, &Error{0, fmt.Sprintf("a drawing has 1 to %d families", MaxFamilies)}
	}
	if len(list) == 0 {
		return []Family{}, nil
	}
	groups := cluster(list, n)
	var out []Family
	for _, g := range groups {
		sort.SliceStable(g, func(a, b int) bool { return weight(list[g[a]]) > weight(list[g[b]]) })
		f := Family{Held: true, Main: list[mainOf(list, g)].Key}
		for _, i := range g {
			c := list[i]
			m := Member{Colour: c.Key, Held: Neutral(c.paint.lab) || held[c.Key], Count: c.Count, Area: math.Round(c.Area*100) / 100}
			f.Held = f.Held && m.Held
			f.Members = append(f.Members, m)
		}
		if f.Held {
			for k := range f.Members {
				f.Members[k].Held = false // the family's says it
			}
		}
		out = append(out, f)
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].count() > out[b].count() })
	return out, nameFamilies(out)
}

// toldApart is by how much two families' lightness or chroma differs (CIELAB) for words to tell them apart.
const toldApart = 8

// nameFamilies calls each family by the hue of its main colour; those of one hue by what tells them apart: their lightness, or their
// chroma, or else the main colour itself.
func nameFamilies(families []Family) error {
	type one struct {
		at  int
		lab colour.Lab
	}
	hues := map[string][]one{}
	for i, f := range families {
		l, err := colour.ParseCSS(f.Main)
		if err != nil {
			return err
		}
		n := HueName(l)
		hues[n] = append(hues[n], one{i, l})
	}
	for hue, list := range hues {
		low := strings.ToLower(hue)
		by := func(of func(one) float64, less, more string) bool {
			slices.SortStableFunc(list, func(a, b one) int { return cmp.Compare(of(a), of(b)) })
			for k := range list[1:] {
				if of(list[k+1])-of(list[k]) < toldApart {
					return false
				}
			}
			for k, o := range list {
				switch k {
				case 0:
					families[o.at].Name = less + low
				case len(list) - 1:
					families[o.at].Name = more + low
				default:
					families[o.at].Name = hue
				}
			}
			return true
		}
		switch {
		case len(list) == 1:
			families[list[0].at].Name = hue
		case len(list) <= 3 && hue != "Black" && hue != "White" &&
			(by(func(o one) float64 { return o.lab[0] }, "Dark ", "Light ") || by(func(o one) float64 { return o.lab.Chroma() }, "Dull ", "Vivid ")):
		default:
			for _, o := range list {
				families[o.at].Name = hue + " " + families[o.at].Main
			}
		}
	}
	return nil
}

func (f *Family) count() (n int) {
	for _, m := range f.Members {
		n += m.Count
	}
	return n
}

func weight(c Colour) float64 { return float64(c.Count) }

// mainOf gives the member that stands for a family: the one there is most of, by count and by area, the more vivid where
// two are alike in that.
func mainOf(list []Colour, g []int) int {
	var count, area float64
	for _, i := range g {
		count += float64(list[i].Count)
		area += list[i].Area
	}
	best, score := g[0], -1.0
	for _, i := range g {
		s := float64(list[i].Count) / count
		if area > 0 {
			s += 1.6 * list[i].Area / area
		}
		s *= 1 + list[i].paint.lab.Chroma()/50
		if Neutral(list[i].paint.lab) {
			s /= 1000
		}
		if s > score {
			best, score = i, s
		}
	}
	return best
}

// HueName calls a colour by the plain words of its hue and tone.
func HueName(l colour.Lab) string {
	switch {
	case Neutral(l) && l[0] < 15 || l[0] < 20 && l.Chroma() < 10:
		return "Black"
	case Neutral(l) && l[0] > 93:
		return "White"
	case Neutral(l):
		return "Grey"
	}
	h := l.Hue()
	name := ""
	for _, n := range []struct {
		upTo float64
		name string
	}{{15, "Pink"}, {50, "Red"}, {75, "Orange"}, {105, "Yellow"}, {125, "Lime"}, {165, "Green"}, {215, "Teal"}, {300, "Blue"}, {330, "Violet"}, {350, "Magenta"}, {361, "Pink"}} {
		if h < n.upTo {
			name = n.name
			break
		}
	}
	if (name == "Orange" || name == "Red" || name == "Yellow") && l[0] < 50 && l.Chroma() < 45 {
		return "Brown"
	}
	return name
}

// How much differences count, squared: found on made-up drawings of near-alike fills, of tints, and of colours from
// anywhere, other ones than the tests use.
const (
	lightnessCounts = 0.2 * 0.2
	chromaCounts    = 0.35 * 0.35
	hueCounts       = 1.5 * 1.5
	greyBelow       = 0.012 // Oklab chroma of what has no hue to speak of
)

// apart is how different two colours are as members of a family, in Oklab: shades of one colour differ in lightness and
// chroma, families in hue. Where both are vivid the hue counts more, and lightness less.
func apart(a, b colour.Oklab) float64 {
	ca, cb := math.Hypot(a[1], a[2]), math.Hypot(b[1], b[2])
	dl, dc := a[0]-b[0], ca-cb
	dh2 := math.Max(0, (a[1]-b[1])*(a[1]-b[1])+(a[2]-b[2])*(a[2]-b[2])-dc*dc)
	// Of pale and dark colours the same angle is a smaller distance: it is brought part of the way to what it would be
	// were both as vivid as most.
	c := math.Sqrt(ca * cb)
	gain := 1.0
	if c > 0.02 {
		gain = math.Pow(math.Max(c, 0.1)/c, 0.8)
	}
	grey := 0.0
	if ca < greyBelow || cb < greyBelow {
		if ca < greyBelow && cb < greyBelow {
			return math.Abs(dl) * 0.5 // black, greys, white
		}
		grey = 0.15
	}
	return grey + math.Sqrt(lightnessCounts*dl*dl+chromaCounts*dc*dc+hueCounts*gain*gain*dh2)
}

type merge struct {
	a, b int
	at   float64
}

// cluster groups colours by average linkage: into n groups, or as many as is natural for 0.
func cluster(list []Colour, n int) [][]int {
	rank := make([]int, len(list))
	for i := range rank {
		rank[i] = i
	}
	sort.SliceStable(rank, func(a, b int) bool { return weight(list[rank[a]]) > weight(list[rank[b]]) })
	lead := rank[:min(len(rank), most)]
	ok := make([]colour.Oklab, len(list))
	for i := range list {
		ok[i] = oklab(list[i].paint.lab)
	}
	m := len(lead)
	merges := linked(m, func(i, j int) float64 { return apart(ok[lead[i]], ok[lead[j]]) })
	if n == 0 {
		n = natural(heights(merges), m)
	}
	out := joined(merges[:m-min(n, m)], m)
	for _, g := range out {
		for i, at := range g {
			g[i] = lead[at]
		}
	}
	for _, i := range rank[m:] { // the rarest
		best, least := 0, math.Inf(1)
		for k, g := range out {
			if d := apart(ok[i], ok[g[0]]); d < least {
				best, least = k, d
			}
		}
		out[best] = append(out[best], i)
	}
	return out
}

// linked merges m things two by two, always the two groups that are the least apart on average, until one is left.
func linked(m int, apart func(i, j int) float64) []merge {
	l := &linkage{dist: make([][]float64, m), size: make([]float64, m), near: make([]int, m)}
	for i := range l.dist {
		l.size[i] = 1
		l.dist[i] = make([]float64, m)
		for j := range l.dist[i] {
			l.dist[i][j] = apart(i, j)
		}
	}
	for i := range l.near {
		l.near[i] = l.nearest(i)
	}
	var merges []merge
	for len(merges) < m-1 {
		a := -1
		for i, s := range l.size {
			if s > 0 && (a < 0 || l.dist[i][l.near[i]] < l.dist[a][l.near[a]]) {
				a = i
			}
		}
		merges = append(merges, merge{a, l.near[a], l.dist[a][l.near[a]]})
		l.merge(a, l.near[a])
	}
	return merges
}

// linkage is groups on their way into one.
type linkage struct {
	dist [][]float64 // of two groups: the mean over their members
	size []float64   // of each; 0 for one that went into another
	near []int       // nearest group of each; -1 for none
}

func (l *linkage) nearest(i int) int {
	best := -1
	for j, s := range l.size {
		if j != i && s > 0 && (best < 0 || l.dist[i][j] < l.dist[i][best]) {
			best = j
		}
	}
	return best
}

// merge lets group b go into a.
func (l *linkage) merge(a, b int) {
	for j, s := range l.size {
		if s > 0 && j != a && j != b {
			l.dist[a][j] = (l.size[a]*l.dist[a][j] + l.size[b]*l.dist[b][j]) / (l.size[a] + l.size[b])
			l.dist[j][a] = l.dist[a][j]
		}
	}
	l.size[a], l.size[b] = l.size[a]+l.size[b], 0
	for i, s := range l.size {
		if s > 0 && (i == a || l.near[i] == a || l.near[i] == b) {
			l.near[i] = l.nearest(i)
		}
	}
}

// joined returns the groups that merges leave of m things.
func joined(merges []merge, m int) (out [][]int) {
	groups := make([][]int, m)
	for i := range groups {
		groups[i] = []int{i}
	}
	for _, v := range merges {
		groups[v.a] = append(groups[v.a], groups[v.b]...)
		groups[v.b] = nil
	}
	for _, g := range groups {
		if g != nil {
			out = append(out, g)
		}
	}
	return out
}

func heights(list []merge) []float64 {
	out := make([]float64, len(list))
	for i, v := range list {
		out[i] = v.at
	}
	return out
}

// natural finds how many families there are: before the merge that is the largest step up from the one before it.
func natural(at []float64, m int) int {
	best, step := 1, 0.0
	for k := max(1, m-12); k < len(at); k++ { // k merges leave m-k families; merge k would be the next
		if s := at[k] / math.Max(at[k-1], 0.02); at[k] > 0.06 && s > step {
			best, step = m-k, s
		}
	}
	if len(at) > 0 && at[0] > 0.06 && m <= 12 && at[0]/0.02 > step {
		return m
	}
	return best
}

// Same gives the keys of the colours within a CIEDE2000 tolerance of one.
func Same(list []Colour, css string, tolerance float64) ([]string, error) {
	l, err := colour.ParseCSS(css)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, c := range list {
		if c.Key == Key(l) || colour.DeltaE00(l, c.paint.lab) <= tolerance {
			out = append(out, c.Key)
		}
	}
	return out, nil
}
