<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** The few words of ours that stand inside archived pages. */
final readonly class PageWords
{
    /**
     * @param string $pictureNotKept beside a picture that is missing
     * @param string $different beside a picture that certainly was another one then
     * @param \Closure(string, string): string $notKeptPage takes the address and our markup for the head
     */
    public function __construct(public string $pictureNotKept, public string $different, public \Closure $notKeptPage)
    {
    }
}
