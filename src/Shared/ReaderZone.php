<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\HttpFoundation\RequestStack;

/** The time zone of whoever reads: what they chose, else what the browser said in a cookie, else the installation's. */
final readonly class ReaderZone
{
    public const COOKIE = 'zone';

    public function __construct(private RequestStack $requests, private CurrentPerson $person, private string $fallback)
    {
    }

    public function zone(): \DateTimeZone
    {
        $said = $this->requests->getMainRequest()?->cookies->get(self::COOKIE);
        foreach ([$this->person->zone(), $said, $this->fallback] as $name) {
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
