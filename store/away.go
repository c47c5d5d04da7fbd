package store

import (
	"errors"
	"io"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
)

// IsAway reports whether an error says that the database is not there for the moment, rather than that a call was wrong.
func IsAway(err error) bool {
	var connect *pgconn.ConnectError
	var said *pgconn.PgError
	var network net.Error
	switch {
	case errors.As(err, &said):
		return strings.HasPrefix(said.Code, "57P") // operator intervention: shut down, crashed, starting
	case errors.As(err, &connect), errors.As(err, &network), errors.Is(err, io.ErrUnexpectedEOF):
		return true
	}
	return err != nil && strings.Contains(err.Error(), "conn closed")
}
