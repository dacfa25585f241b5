<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\HttpFoundation\RequestStack;

/** The time zone of whoever reads: what the browser said in a cookie, else the installation's. */
final readonly class ReaderZone
{
    public const COOKIE = 'zone';

    public function __construct(private RequestStack $requests, private string $fallback)
    {
    }

    public function zone(): \DateTimeZone
    {
        foreach ([$this->requests->getMainRequest()?->cookies->get(self::COOKIE), $this->fallback] as $name) {
            if (\is_string($name) && 1 === preg_match('#^[A-Za-z][A-Za-z0-9_+/-]{1,60}$#', $name)) {
                try {
                    return new \DateTimeZone($name);
                } catch (\Exception) {
                    continue;
                }
            }
        }

        return new \DateTimeZone('UTC');
    }
}
