package raster

// Unmix returns how much of the second of two colours there is in a mixture of both, by the place on the line through them that is
// nearest to it, 0 to 1 between the two, and how far the two lie apart, squared. Where they are one the share is 0.
func Unmix[F float32 | float64](c, from, to *[3]F) (share, apart2 F) {
	var dot F
	for k := range 3 {
		d := to[k] - from[k]
		dot += (c[k] - from[k]) * d
		apart2 += d * d
	}
	return dot / max(apart2, 1e-9), apart2
}

// Unexplained returns how far a colour lies from the mixture of two with a share of the second, squared.
func Unexplained[F float32 | float64](c, from, to *[3]F, share F) (off2 F) {
	for k := range 3 {
		e := c[k] - from[k] - share*(to[k]-from[k])
		off2 += e * e
	}
	return off2
}
