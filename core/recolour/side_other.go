//go:build !amd64

package recolour

const wide = 0

func mixWide(int, *float32, *float32, *float32, *float32, *taken, *mixing)                      {}
func weighWide(int, *taken, *float32, *float32, *float32, *weighing)                            {}
func meanWide(int, *taken, *float32, *float32, *float32, *float32, *float32, *float32, float32) {}
func giveBackWide(int, *float32, *float32, *float32, float32, float32)                          {}
func crispWide(int, *taken, *float32, float32)                                                  {}
func deepenWide(int, *taken, *float32)                                                          {}
func apartWide(int, *float32, *float32, *float32, *float32)                                     {}
func putWide(int, *float32, *float32, *float32, *float32, *float32) int                         { return 0 }
func endsWide(int, *float32, *float32, *float32) (least, most float32)                          { return 0, 0 }
func curveWide(int, *float32, *float32, float32)                                                {}
func curveWholeWide(int, *float32, *float32, *float32, *float32, float32)                       {}
func relightWide(int, *taken, *float32, *float32, *float32, *float32, *float32, *float32, *float32, *float32, *float32, *relighting) {
}
