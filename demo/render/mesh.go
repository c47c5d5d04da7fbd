package main

import (
	"bufio"
	"fmt"
	"math"
	"os"
)

type vec [3]float64

func (a vec) add(b vec) vec       { return vec{a[0] + b[0], a[1] + b[1], a[2] + b[2]} }
func (a vec) sub(b vec) vec       { return vec{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
func (a vec) times(k float64) vec { return vec{a[0] * k, a[1] * k, a[2] * k} }
func (a vec) dot(b vec) float64   { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
func (a vec) length() float64     { return math.Sqrt(a.dot(a)) }
func (a vec) cross(b vec) vec {
	return vec{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
}
func (a vec) unit() vec {
	if l := a.length(); l > 1e-12 {
		return a.times(1 / l)
	}
	return vec{0, 1, 0}
}

// mesh is a triangle mesh with smooth normals and one uv pair a vertex.
type mesh struct {
	at    []vec
	uv    [][2]float64
	faces [][3]int
}

// grid makes a mesh of (nu+1) x (nv+1) points; f gets u and v in 0..1.
func grid(nu, nv int, uScale, vScale float64, f func(u, v float64) vec) *mesh {
	m := &mesh{}
	for j := 0; j <= nv; j++ {
		for i := 0; i <= nu; i++ {
			u, v := float64(i)/float64(nu), float64(j)/float64(nv)
			m.at = append(m.at, f(u, v))
			m.uv = append(m.uv, [2]float64{u * uScale, v * vScale})
		}
	}
	m.gridFaces(0, nu, nv)
	return m
}

func (m *mesh) gridFaces(base, nu, nv int) {
	for j := 0; j < nv; j++ {
		for i := 0; i < nu; i++ {
			a := base + j*(nu+1) + i
			b, c, d := a+1, a+nu+1, a+nu+2
			m.faces = append(m.faces, [3]int{a, b, d}, [3]int{a, d, c})
		}
	}
}

// tube sweeps an ellipse of radii rx (sideways) and ry along a path.
func (m *mesh) tube(path []vec, rx, ry func(t float64) float64, side vec, around int) {
	base := len(m.at)
	n := len(path) - 1
	for j := 0; j <= n; j++ {
		ahead := path[min(j+1, n)].sub(path[max(j-1, 0)]).unit()
		s := side.sub(ahead.times(side.dot(ahead))).unit()
		up := ahead.cross(s)
		t := float64(j) / float64(n)
		for i := 0; i <= around; i++ {
			a := 2 * math.Pi * float64(i) / float64(around)
			m.at = append(m.at, path[j].add(s.times(rx(t)*math.Cos(a))).add(up.times(ry(t)*math.Sin(a))))
			m.uv = append(m.uv, [2]float64{float64(i) / float64(around), t})
		}
	}
	m.gridFaces(base, around, n)
}

func (m *mesh) normals() []vec {
	sum := make([]vec, len(m.at))
	for _, f := range m.faces {
		n := m.at[f[1]].sub(m.at[f[0]]).cross(m.at[f[2]].sub(m.at[f[0]]))
		for _, i := range f {
			sum[i] = sum[i].add(n)
		}
	}
	// Points that coincide (the seam of a closed surface) share their normal.
	at := map[[3]int]vec{}
	key := func(p vec) [3]int {
		return [3]int{int(math.Round(p[0] * 1e6)), int(math.Round(p[1] * 1e6)), int(math.Round(p[2] * 1e6))}
	}
	for i, p := range m.at {
		at[key(p)] = at[key(p)].add(sum[i])
	}
	for i, p := range m.at {
		sum[i] = at[key(p)].unit()
	}
	return sum
}

func (m *mesh) write(path, name string) error {
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(f)
	fmt.Fprintf(w, "#declare %s = mesh2 {\n vertex_vectors { %d", name, len(m.at))
	for _, p := range m.at {
		fmt.Fprintf(w, ",\n<%.6f,%.6f,%.6f>", p[0], p[1], p[2])
	}
	fmt.Fprintf(w, " }\n normal_vectors { %d", len(m.at))
	for _, n := range m.normals() {
		fmt.Fprintf(w, ",\n<%.5f,%.5f,%.5f>", n[0], n[1], n[2])
	}
	fmt.Fprintf(w, " }\n uv_vectors { %d", len(m.uv))
	for _, p := range m.uv {
		fmt.Fprintf(w, ",\n<%.5f,%.5f>", p[0], p[1])
	}
	fmt.Fprintf(w, " }\n face_indices { %d", len(m.faces))
	for _, p := range m.faces {
		fmt.Fprintf(w, ",\n<%d,%d,%d>", p[0], p[1], p[2])
	}
	fmt.Fprintf(w, " }\n}\n")
	if err := w.Flush(); err != nil {
		return err
	}
	return f.Close()
}
