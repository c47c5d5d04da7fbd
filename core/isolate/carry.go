package isolate

import "episema/core/colour"

// Placeless gives those picks of a part that mean something in another picture too: Like colours with the colours
// themselves instead of places, Hues, Tones and Subject, with their joins. What depends on the place is left out.
func Placeless(p Pyramid, in Inputs, picks []Pick) ([]Pick, error) {
	c := &compiler{p: p, in: in}
	space := in.space()
	labs := func(list []colour.RGB, to [][3]float64) [][3]float64 {
		for _, v := range list {
			to = append(to, [3]float64(space.Lab(v)))
		}
		return to
	}
	var out []Pick
	for _, k := range picks {
		switch k.Kind {
		case "hues", "tones", "subject":
			out = append(out, k)
		case "like":
			yes, err := c.sampled(k.Samples)
			if err != nil {
				return nil, err
			}
			for _, b := range k.Boxes {
				more, err := c.boxed(b)
				if err != nil {
					return nil, err
				}
				yes = append(yes, more...)
			}
			no, err := c.sampled(k.Not)
			if err != nil {
				return nil, err
			}
			n := k
			n.Samples, n.Boxes, n.Not, n.Connected = nil, nil, nil, false
			n.Colours, n.NotLike = labs(yes, k.Colours[:len(k.Colours):len(k.Colours)]), labs(no, k.NotLike[:len(k.NotLike):len(k.NotLike)])
			if len(n.Colours) > 0 {
				out = append(out, n)
			}
		}
	}
	// What was taken away or kept in common needs something to be taken from.
	for len(out) > 0 && out[0].Join != "add" {
		out = out[1:]
	}
	return out, nil
}
