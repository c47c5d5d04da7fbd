package artwork_test

import (
	"fmt"

	"episema/core/artwork"
)

// A drawing's colours are gathered into families; what is near one hue is one family.
func ExampleGather() {
	d, err := artwork.Parse([]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 10" width="30" height="10">
		<rect width="10" height="10" fill="#9c2a1e"/><rect x="10" width="5" height="10" fill="#b84a3c"/><rect x="15" width="15" height="10" fill="#1d6a72"/></svg>`))
	if err != nil {
		fmt.Println(err)
		return
	}
	families, err := artwork.Gather(d.Colours, 0, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range families {
		fmt.Println(f.Name, f.Main, len(f.Members))
	}
	// Output:
	// Red #9c2a1e 2
	// Teal #1d6a72 1
}
