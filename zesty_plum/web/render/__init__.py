"""Pictures and figures by their address."""
