<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

/**
 * The stand-in web's own time, in a file: set to a moment, it runs on from there.
 */
final readonly class Clock
{
    public const FIRST = '2024-03-01T00:00:00Z';
    public const LAST = '2026-10-31T23:59:59Z';

    public function __construct(private string $path)
    {
    }

    public function now(): \DateTimeImmutable
    {
        $state = json_decode((string) @file_get_contents($this->path), true);
        $utc = new \DateTimeZone('UTC');
        if (!\is_array($state) || !\is_string($state['at'] ?? null) || !is_numeric($state['since'] ?? null)) {
            return new \DateTimeImmutable(self::FIRST, $utc);
        }
        $passed = max(0.0, microtime(true) - (float) $state['since']);
        $at = new \DateTimeImmutable($state['at'], $utc);

        return $at->setTimestamp($at->getTimestamp() + (int) $passed)->modify(\sprintf('+%d usec', (int) (1e6 * fmod($passed, 1.0))));
    }

    /**
     * @throws \InvalidArgumentException
     */
    public function set(string $moment): \DateTimeImmutable
    {
        try {
            $at = new \DateTimeImmutable($moment, new \DateTimeZone('UTC'));
        } catch (\Exception) {
            throw new \InvalidArgumentException(\sprintf('“%s” is no date; write it as 2024-11-03 or 2024-11-03T10:00Z.', $moment));
        }
        if ($at < new \DateTimeImmutable(self::FIRST) || $at > new \DateTimeImmutable(self::LAST)) {
            throw new \InvalidArgumentException(\sprintf(
                'The stand-in web plays from 2024-03-01 to 2026-10-31; “%s” lies outside.', $moment,
            ));
        }
        $state = ['at' => $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z'), 'since' => microtime(true)];
        @mkdir(\dirname($this->path), 0o755, true);
        $temporary = $this->path.'.'.getmypid();
        if (false === @file_put_contents($temporary, json_encode($state)) || !rename($temporary, $this->path)) {
            throw new \InvalidArgumentException(\sprintf('The clock’s file “%s” cannot be written.', $this->path));
        }

        return $this->now();
    }
}
