package cluster

// Forget lets go of the folder as a process does that is killed: the database goes on.
func (c *Cluster) Forget() {
	c.mu.Lock()
	c.stopping = true
	c.mu.Unlock()
	c.lock.Close()
}
