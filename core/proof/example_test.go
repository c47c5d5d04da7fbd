package proof_test

import (
	"fmt"

	"episema/core/proof"
)

// A brand colour has a tolerance; the evidence over the whole part meets it or does not.
func ExampleWhole_Meets() {
	good := proof.Whole{Median: 0.8, Most: 2.4}
	burned := proof.Whole{Median: 0.8, Most: 2.4, Burned: 6} // percent of the part as good as white
	fmt.Println(good.Meets(2), good.Meets(0.5), burned.Meets(2))
	// Output: true false false
}
