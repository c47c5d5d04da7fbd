package scenes

// Kept keeps all that was solved about one picture, as an open document does; it is an isolate.Solved.
type Kept map[[32]byte]any

// Get returns what is kept under a key.
func (k Kept) Get(key [32]byte) (any, bool) { v, ok := k[key]; return v, ok }

// Put keeps a value, whatever it takes.
func (k Kept) Put(key [32]byte, v any, _ int) { k[key] = v }
