<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

/** As whom a browser runs, and in which folder: where root asks, as nobody, so that what breaks out of a page finds nothing of ours. */
final class BrowserUser
{
    private const SETPRIV = '/usr/bin/setpriv';
    private const NOBODY = 65_534;
    /** Whatever ends this process, the browser ends with it. */
    private const ENDS_WITH_US = ['--pdeathsig', 'KILL'];

    /** @var array<string, bool> whether Chromium's sandbox can work, by who it runs as */
    private static array $sandboxes = [];

    /**
     * @param string $home its folder
     * @param bool $isNobody the folder is made for it, and goes with it
     * @param list<string> $command what goes before a command to run it so
     */
    private function __construct(public readonly string $home, public readonly bool $isNobody, public readonly array $command)
    {
    }

    /**
     * @param string $folder its folder, unless it runs as nobody
     *
     * @throws BrowserFailed
     */
    public static function of(string $folder): self
    {
        $drops = is_executable(self::SETPRIV);
        $shared = 0 === posix_geteuid() && $drops ? self::sharedFolder() : null;
        if (null === $shared) {
            return new self($folder, false, $drops ? [self::SETPRIV, ...self::ENDS_WITH_US] : []);
        }

        return new self(self::homeOfNobody($shared), true, [
            self::SETPRIV, '--reuid='.self::NOBODY, '--regid='.self::NOBODY, '--clear-groups', '--no-new-privs', ...self::ENDS_WITH_US,
        ]);
    }

    /** Whether Chromium's own sandbox can work for it: it needs namespaces, which machines refuse in many ways, so it is tried. */
    public function canSandbox(): bool
    {
        if (0 === posix_geteuid() && !$this->isNobody) {
            return false;
        }
        $key = implode(' ', $this->command);
        if (!isset(self::$sandboxes[$key])) {
            $process = @proc_open(
                [...$this->command, '/usr/bin/unshare', '--user', '--pid', '--net', '--fork', '/bin/true'],
                [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
                $pipes,
            );
            self::$sandboxes[$key] = false !== $process && 0 === proc_close($process);
        }

        return self::$sandboxes[$key];
    }

    /** A folder for temporary files that everybody can get to; null if there is none. */
    private static function sharedFolder(): ?string
    {
        foreach ([sys_get_temp_dir(), '/tmp', '/var/tmp'] as $folder) {
            $open = is_dir($folder);
            for ($at = $folder; $open && '/' !== $at && '.' !== $at; $at = \dirname($at)) {
                $open = 0 !== ((int) @fileperms($at) & 0o001);
            }
            if ($open) {
                return $folder;
            }
        }

        return null;
    }

    private static function homeOfNobody(string $folder): string
    {
        $home = $folder.'/ypomna-b-'.bin2hex(random_bytes(6));
        if (!mkdir($home, 0o700) || !chown($home, self::NOBODY) || !chgrp($home, self::NOBODY)) {
            throw new BrowserFailed('There is no folder for the browser.');
        }

        return $home;
    }
}
