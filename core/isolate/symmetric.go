package isolate

// symmetric is a symmetric matrix of three rows: its upper triangle, row by row.
type symmetric [6]float64

// plus returns it with e added to its diagonal.
func (m symmetric) plus(e float64) symmetric {
	m[0], m[3], m[5] = m[0]+e, m[3]+e, m[5]+e
	return m
}

// inverse returns the inverse and the determinant; without one, which a covariance has if it is flat, the inverse is all noughts.
func (m symmetric) inverse() (inv symmetric, det float64) {
	a, b, c, d, e, f := m[0], m[1], m[2], m[3], m[4], m[5]
	det = a*(d*f-e*e) - b*(b*f-c*e) + c*(b*e-c*d)
	if det <= 0 {
		return inv, det
	}
	return symmetric{(d*f - e*e) / det, (c*e - b*f) / det, (b*e - c*d) / det, (a*f - c*c) / det, (b*c - a*e) / det, (a*d - b*b) / det}, det
}
