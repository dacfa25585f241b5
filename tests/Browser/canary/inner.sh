#!/usr/bin/env bash
# Makes the network in which inner.mjs runs. Usage: unshare -nm inner.sh …
set -eu
ip link set lo up
# Peer connections look for an interface that is not the loopback.
ip link add outer type veth peer name far
ip addr add 198.51.100.1/24 dev outer
ip link set outer up
ip link set far up
ip route add local 0.0.0.0/0 dev lo
resolv=$(mktemp); echo 'nameserver 127.0.0.1' >"$resolv"
mount --bind "$resolv" "$(readlink -f /etc/resolv.conf)"
exec node "$(dirname "$0")/inner.mjs" "$@"
