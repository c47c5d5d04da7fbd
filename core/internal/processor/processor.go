// Package processor says what the processor can do beyond what every one of its kind can.
package processor

// Wide is how many 32-bit values the loops in assembly work on side by side; 0 where there are none for the processor.
var Wide = wide()
