<?php

declare(strict_types=1);

namespace Ypomna\Core\Memento;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\HttpDate;

/** One page of the list of an address's captures (RFC 7089, section 5), or what a TimeGate says of them in its Link header. */
final readonly class TimeMap
{
    /** More of one page are passed over. */
    private const MOST = 20_000;

    /**
     * @param list<HeldElsewhere> $held as they stand there
     * @param list<Url> $further other pages of the list
     * @param Url|null $timeGate where it says that moments are asked for
     */
    private function __construct(public array $held, public array $further, public ?Url $timeGate)
    {
    }

    /** @param Url $base what relative links are resolved against */
    public static function read(string $text, Url $base): self
    {
        $held = $further = [];
        $gate = null;
        foreach (LinkFormat::read($text) as $link) {
            $url = Url::tryParse($link->target, $base);
            if (null === $url || !$url->isWeb() || \count($held) >= self::MOST) {
                continue;
            }
            $at = $link->is('memento') ? HttpDate::parse($link->attributes['datetime'] ?? '') : null;
            if (null !== $at) {
                $held[] = new HeldElsewhere($url, $at);
            }
            if ($link->is('timemap') && !$link->is('self')
                && 1 === preg_match('#^(?:application/link-format)?$#i', $link->attributes['type'] ?? '')
                && (string) $url !== (string) $base) {
                $further[] = $url;
            }
            if ($link->is('timegate')) {
                $gate ??= $url;
            }
        }

        return new self($held, $further, $gate);
    }
}
