# Shared by bin/start, bin/stop and bin/test. Sourced, never run.

ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
export COMPOSER_ALLOW_SUPERUSER=1

say() { printf '%s\n' "$*"; }
die() { printf '%s\n' "$*" >&2; exit 1; }

# Packages that are missing here, one a line.
missing_packages() {
  command -v nginx >/dev/null || [ -x /usr/sbin/nginx ] || echo nginx-light
  [ -x /usr/sbin/php-fpm8.2 ] || echo php8.2-fpm
  [ -x /usr/sbin/mariadbd ] || echo mariadb-server-core
  command -v mariadb >/dev/null || echo mariadb-client-core
  command -v mariadb-dump >/dev/null || echo mariadb-client
  [ -x /usr/bin/chromium ] || echo chromium
  [ -f /usr/lib/mysql/plugin/ha_mroonga.so ] || echo mariadb-plugin-mroonga
  ldconfig -p 2>/dev/null | grep -q 'libstemmer\.so\.0d' || ls /usr/lib/*/libstemmer.so.0d >/dev/null 2>&1 || echo libstemmer0d
  [ -f /usr/share/libexttextcat/en.lm ] || echo libexttextcat-data
  command -v pdftotext >/dev/null || echo poppler-utils
  command -v pandoc >/dev/null || echo pandoc
  command -v tesseract >/dev/null || echo tesseract-ocr
  local language
  for language in eng deu fra ell; do
    ls /usr/share/tesseract-ocr/*/tessdata/$language.traineddata >/dev/null 2>&1 || echo tesseract-ocr-$language
  done
  command -v qrencode >/dev/null || echo qrencode
  ldconfig -p 2>/dev/null | grep -q 'libuchardet\.so\.0' || ls /usr/lib/*/libuchardet.so.0 >/dev/null 2>&1 || echo libuchardet0
  [ -d /usr/share/citation-style-language/styles ] || echo citation-style-language-styles
  # What only the tests need.
  if [ -n "${FOR_TESTS:-}" ]; then
    command -v wget >/dev/null || echo wget
    command -v python3 >/dev/null || echo python3-minimal
    command -v ip >/dev/null || echo iproute2
    command -v oathtool >/dev/null || echo oathtool
    command -v certutil >/dev/null || echo libnss3-tools
  fi
  local have; have=$(php -m)
  local pair
  for pair in pdo_mysql:php8.2-mysql gd:php8.2-gd intl:php8.2-intl mbstring:php8.2-mbstring dom:php8.2-xml curl:php8.2-curl \
    apcu:php8.2-apcu zip:php8.2-zip; do
    grep -qix "${pair%%:*}" <<<"$have" || echo "${pair#*:}"
  done
}

install_packages() {
  local missing; missing=$(missing_packages)
  [ -n "$missing" ] || return 0
  if [ "$(id -u)" != 0 ]; then
    die "These Debian packages are missing: $(tr '\n' ' ' <<<"$missing")
Run this command once as root, or: apt-get install --no-install-recommends $(tr '\n' ' ' <<<"$missing")"
  fi
  say "Installing: $(tr '\n' ' ' <<<"$missing")"
  local log try; log=$(mktemp)
  for try in 1 2 3 4 5; do apt-get update -q >"$log" 2>&1 && break; sleep $((try * 3)); done
  export DEBIAN_FRONTEND=noninteractive
  local get=(apt-get -o DPkg::Lock::Timeout=300 install -y -q --no-install-recommends)
  # Servers that come with packages are started by nobody but us (invoke-rc.d(8)).
  local policy=/usr/sbin/policy-rc.d own= failed=
  [ -e "$policy" ] || { printf '#!/bin/sh\nexit 101\n' >"$policy" && chmod 755 "$policy" && own=1; }
  # shellcheck disable=SC2086
  "${get[@]}" $missing >>"$log" 2>&1 ||
    { apt-get --fix-broken install -y -q >>"$log" 2>&1; "${get[@]}" $missing >>"$log" 2>&1; } || failed=1
  [ -z "$own" ] || rm -f "$policy"
  [ -z "$failed" ] || { tail -n 20 "$log" >&2; die "The packages could not be installed; the whole log is in $log"; }
  rm -f "$log"
}

# The browser's engine without a window's parts, which starts in a third of the time; where it is not to be had, tests take longer.
install_engine() {
  [ -x /usr/bin/chromium-headless-shell ] || [ "$(id -u)" != 0 ] || {
    apt-get update -q
    DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=300 install -y -q --no-install-recommends chromium-headless-shell
  } >/dev/null 2>&1 || true
}

install_libraries() {
  local mark=$ROOT/vendor/.installed-for sum; sum=$(sha256sum "$ROOT/composer.json" | cut -c1-64)
  [ -f "$ROOT/vendor/autoload.php" ] && [ "$(cat "$mark" 2>/dev/null)" = "$sum" ] && return 0
  [ -w "$ROOT" ] || die "The folder $ROOT is not writable, so the libraries cannot be installed there. Run this command once as its owner."
  say "Installing the PHP libraries"
  local log; log=$(mktemp)
  (cd "$ROOT" && { composer install --no-progress --no-interaction || composer install --no-progress --no-interaction; }) >"$log" 2>&1 ||
    { tail -n 20 "$log" >&2; die "The libraries could not be installed; the whole log is in $log"; }
  chmod -R a+rX "$ROOT/vendor" "$ROOT/tools"
  printf %s "$sum" >"$mark"; rm -f "$log"
}

# What the tests of the interface need; the application itself runs without Node.
install_node() {
  local mark=$ROOT/node_modules/.installed-for sum; sum=$(sha256sum "$ROOT/package-lock.json" | cut -c1-64)
  [ "$(cat "$mark" 2>/dev/null)" = "$sum" ] && return 0
  command -v npm >/dev/null || die "Node.js with npm is missing; the tests of the interface need it."
  local get=(npm install --ignore-scripts --no-audit --no-fund --no-save)
  (cd "$ROOT" && { "${get[@]}" || "${get[@]}"; }) || die "The packages of the interface’s tests could not be installed."
  printf %s "$sum" >"$mark"
}

port_is_free() { # ADDRESS PORT
  php -r '$s = @stream_socket_server("tcp://$argv[1]:$argv[2]"); exit($s ? 0 : 1);' "$1" "$2"
}

# A path for a socket: those are limited to 107 bytes. A folder in the temporary folder has to be ours alone: whoever made it before
# us could put a socket of their own there.
socket_path() { # FOLDER NAME
  local p=$1/$2 short
  if [ ${#p} -gt 100 ]; then
    short=${YPOMNA_SOCKETS:-/tmp}/ypomna-$(id -u)
    mkdir -m 700 "$short" 2>/dev/null
    if [ -L "$short" ] || [ ! -d "$short" ] || [ "$(stat -c '%u %a' "$short")" != "$(id -u) 700" ]; then
      printf '%s\n' "The folder $short is not ours alone (it should be a folder of $(id -un) with mode 700), so no socket is put there." \
        "Remove it, or choose a data folder with a shorter path." >&2
      return 1
    fi
    p=$short/$(printf %s "$1" | sha256sum | cut -c1-12)-$2
  fi
  printf %s "$p"
}

# A private MariaDB on loopback. FOLDER PORT [durable|throwaway]; waits until it answers.
mariadb_start() {
  local dir=$1 port=$2 mode=${3:-durable} me sock extra pid memory=128
  me=$(id -un); mkdir -p "$dir"; chmod 700 "$dir"; sock=$(socket_path "$dir" m.sock) || exit 1
  mariadb --no-defaults -S "$sock" -u"$me" -e 'select 1' >/dev/null 2>&1 && return 0
  if [ ! -d "$dir/data/mysql" ] || [ -f "$dir/setting-up" ]; then
    # Only the remains of a set-up that was broken off are ever removed.
    [ -f "$dir/setting-up" ] || [ -z "$(ls -A "$dir/data" 2>/dev/null)" ] ||
      die "The folder $dir/data holds something that is no whole database: its system tables are missing. Nothing in it was touched." \
        "Put the folder back from a copy, or move it away; then start again, and bin/ypomna catalogue:rebuild."
    : >"$dir/setting-up"
    # On a busy machine setting up has been seen to fail once and work the next time.
    local try
    for try in 1 2 3; do
      rm -rf "$dir/data"
      mariadb-install-db --no-defaults --user="$me" --datadir="$dir/data" --basedir=/usr --auth-root-authentication-method=socket \
        --auth-root-socket-user="$me" --skip-test-db --skip-name-resolve --tmpdir="$dir" >"$dir/install.log" 2>&1 && break
      [ "$try" != 3 ] ||
        { grep -iE 'error|fail|cannot' "$dir/install.log" | head -n 8 >&2; die "The database could not be set up in $dir."; }
      sleep 1
    done
    rm -f "$dir/setting-up"
  fi
  if [ "$mode" = throwaway ]; then
    extra="--innodb-flush-log-at-trx-commit=0 --innodb-doublewrite=OFF --innodb-flush-method=nosync --sync-frm=0 --innodb-log-file-size=32M"
  else
    extra="--innodb-flush-log-at-trx-commit=1 --innodb-log-file-size=96M"
    # An eighth of what there is, for pages that are asked for again: from 128 MB to 2 GB, taken as they are used.
    memory=$({ awk '/^MemTotal/ {print $2 * 1024}' /proc/meminfo; cat /sys/fs/cgroup/memory.max; } 2>/dev/null | grep '^[0-9]' | sort -n |
      awk 'NR == 1 {m = int($1 / 8388608)} END {print m < 128 ? 128 : (m > 2048 ? 2048 : m)}')
  fi
  # The index of words, where it is installed.
  [ ! -f /usr/lib/mysql/plugin/ha_mroonga.so ] || extra+=" --plugin-load-add=ha_mroonga --loose-mroonga-log-file=$dir/words.log"
  # shellcheck disable=SC2086
  setsid ${LESS:-} /usr/sbin/mariadbd --no-defaults --user="$me" --basedir=/usr --datadir="$dir/data" --socket="$sock" \
    --pid-file="$dir/m.pid" --bind-address=127.0.0.1 --port="$port" --skip-name-resolve --skip-log-bin \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_520_ci --innodb-buffer-pool-size=${memory}M \
    --key-buffer-size=1M --aria-pagecache-buffer-size=8M --performance-schema=OFF --max-connections=60 --table-open-cache=400 \
    --tmpdir="$dir" --log-error="$dir/error.log" $extra </dev/null >/dev/null 2>&1 9>&- &
  pid=$!
  until mariadb --no-defaults -S "$sock" -u"$me" -e 'select 1' >/dev/null 2>&1; do
    kill -0 $pid 2>/dev/null || { tail -n 8 "$dir/error.log" >&2; die "The database did not start; its log is $dir/error.log"; }
    sleep .05
  done
}

# Makes database and user where they are missing. FOLDER DATABASE PASSWORD
mariadb_prepare() {
  local sock; sock=$(socket_path "$1" m.sock) || exit 1
  mariadb --no-defaults -S "$sock" -u"$(id -un)" -e "
    CREATE DATABASE IF NOT EXISTS \`$2\`;
    CREATE USER IF NOT EXISTS ypomna@'127.0.0.1' IDENTIFIED BY '$3'; ALTER USER ypomna@'127.0.0.1' IDENTIFIED BY '$3';
    GRANT ALL ON \`$2\`.* TO ypomna@'127.0.0.1';" || die "The database refused to make its user."
  # How the index of words is asked; without it pages are found by address and title.
  mariadb --no-defaults -S "$sock" -u"$(id -un)" -e "CREATE FUNCTION IF NOT EXISTS mroonga_command RETURNS STRING SONAME 'ha_mroonga.so'" \
    >/dev/null 2>&1 || true
}

alive() { [ -n "${1:-}" ] && kill -0 "$1" 2>/dev/null; }

# Whether the process of a pid file is alive and what it should be. FILE WORD-IN-ITS-COMMAND
runs() {
  local pid; pid=$(cat "$1" 2>/dev/null) || return 1
  [ -d "/proc/$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF -- "$2"
}

# Ends the process of a pid file, if it is what it should be. FILE WORD [SECONDS]
end() {
  runs "$1" "$2" || { rm -f "$1"; return 0; }
  local pid n; pid=$(cat "$1")
  kill -TERM "$pid" 2>/dev/null
  for n in $(seq $((${3:-10} * 20))); do kill -0 "$pid" 2>/dev/null || break; sleep .05; done
  kill -KILL "$pid" 2>/dev/null
  rm -f "$1"
}

# Ends the workers of an installation: end_workers FOLDER [SECONDS]
end_workers() {
  local pid pids=
  for pid in "$1"/worker.pid "$1"/worker-*.pid; do
    [ ! -e "$pid" ] || { end "$pid" keep-running "${2:-10}" & pids="$pids $!"; }
  done
  [ -z "$pids" ] || wait $pids
}
