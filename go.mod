module episema

go 1.26.8

require (
	github.com/stretchr/testify v1.12.1 // indirect
	golang.org/x/image v0.47.0 // indirect
)
