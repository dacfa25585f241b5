<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Shared\Viewer;

/**
 * What a page is about to ask for, remembered from its document on for as long as its parts may take: they are answered
 * without the database. Where the machine has no shared memory nothing is remembered, and each part looks for itself.
 */
final readonly class PartMemory
{
    private const SECONDS = 90;

    private string $prefix;

    /** @param string $of tells installations on one machine apart */
    public function __construct(string $of)
    {
        $this->prefix = 'part '.substr(hash('sha256', $of), 0, 16).' ';
    }

    /**
     * @param array<string, RecordPlace|null> $places by exact address
     */
    public function keep(ReadCapture $as, array $places): void
    {
        if (!self::works()) {
            return;
        }
        $entries = [$this->captureKey($as->viewer, $as->code) => $as];
        foreach ($places as $url => $place) {
            $entries[$this->key($as, $url)] = [$place];
        }
        apcu_store($entries, null, self::SECONDS);
    }

    public function capture(Viewer $viewer, string $code): ?ReadCapture
    {
        $found = self::works() ? apcu_fetch($this->captureKey($viewer, $code)) : null;

        return $found instanceof ReadCapture ? $found : null;
    }

    /** @return RecordPlace|false|null false: it is known that there is none; null: nothing is known */
    public function place(ReadCapture $as, string $url): RecordPlace|false|null
    {
        $found = self::works() ? apcu_fetch($this->key($as, $url)) : null;
        if (!\is_array($found)) {
            return null;
        }

        return ($found[0] ?? null) instanceof RecordPlace ? $found[0] : false;
    }

    /** @return array<string, true>|null path and place of what a page asks for; null if that is not known */
    public function asked(ReadCapture $as): ?array
    {
        $found = self::works() ? apcu_fetch($this->captureKey($as->viewer, $as->code).' asked') : null;
        if (!\is_array($found)) {
            return null;
        }

        return array_fill_keys(array_filter(array_keys($found), \is_string(...)), true);
    }

    /**
     * @param array<string, true> $asked
     */
    public function keepAsked(ReadCapture $as, array $asked): void
    {
        if (self::works()) {
            apcu_store($this->captureKey($as->viewer, $as->code).' asked', $asked, self::SECONDS);
        }
    }

    private function captureKey(Viewer $viewer, string $code): string
    {
        return $this->prefix.($viewer->name ?? '')."\0".$code;
    }

    private function key(ReadCapture $as, string $url): string
    {
        return $this->captureKey($as->viewer, $as->code).' '.hash('sha256', $url);
    }

    private static function works(): bool
    {
        return \function_exists('apcu_enabled') && apcu_enabled();
    }
}
