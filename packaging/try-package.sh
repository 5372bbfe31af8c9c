#!/bin/sh
# Installs the package into a bare Debian 12 of its own and uses it there as a user who may not write anything but a home. As root.
# usage: try-package.sh PACKAGE.deb FOLDER
set -eu
package="$1"
root="$2"
mirror=$(grep -rhoE '(URIs: |^deb )[^ ]*https?://[^ ]+/debian/?( |$)' /etc/apt/sources.list /etc/apt/sources.list.d 2>/dev/null |
    grep -oE 'https?://[^ ]+' | head -1)
[ -d "$root/usr" ] || debootstrap --variant=minbase bookworm "$root" "$mirror" >/dev/null
cp "$package" "$root/tmp/hidden-seam.deb"
if [ -f /etc/apt/apt.conf.d/proxy.conf ]; then cp /etc/apt/apt.conf.d/proxy.conf "$root/etc/apt/apt.conf.d/"; fi
in_root() { chroot "$root" env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin DEBIAN_FRONTEND=noninteractive "$@"; }
mount -t proc proc "$root/proc" 2>/dev/null || true
trap 'umount "$root/proc" 2>/dev/null || true' EXIT
in_root apt-get -qq update
in_root apt-get -qq install -y --no-install-recommends /tmp/hidden-seam.deb >/dev/null
in_root useradd --create-home second 2>/dev/null || true
as_second() {
    chroot "$root" setpriv --reuid=second --regid=second --init-groups env -i PATH=/usr/bin:/bin HOME=/home/second \
        XDG_RUNTIME_DIR=/tmp QT_QPA_PLATFORM=offscreen "$@"
}
demo=/usr/share/hidden-seam/demo/pictures
as_second hseam select $demo/lamplighter.jpg --subject --out /home/second/selection.png
as_second hseam cut $demo/lamplighter.jpg --selection /home/second/selection.png --cutout /home/second/cut.png
as_second hseam measure $demo/pier.jpg --json >/dev/null
as_second hidden-seam --demo --shots /home/second/shots
test "$(ls "$root/home/second/shots" | wc -l)" -ge 10
if as_second sh -c 'touch /usr/share/hidden-seam/x' 2>/dev/null; then echo "the prefix can be written"; exit 1; fi
in_root dpkg -V hidden-seam
echo "Installed, cut a picture and showed the demo in a bare Debian 12: $root"
