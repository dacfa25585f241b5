<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Warc\WarcError;

/**
 * Drawings of which a page shows pieces (`<use href="icons.svg#boat">`). Browsers take them from the page's own origin alone, and a page
 * in the sandbox has none; so our script puts them there, and in a page that may ask for nothing they come with the document.
 */
final readonly class Drawings
{
    private const USE = '~<use\s(?:[^<>]*?\s)?(?:xlink:)?href\s*=\s*(?:"([^"#]+)#|\'([^\'#]+)#|([^\s>"\'#]+)#)~i';
    private const MOST = 20;
    /** All of a page together, in bytes. */
    private const MOST_BYTES = 524_288;

    public function __construct(private Holdings $holdings)
    {
    }

    /**
     * @param bool $only whether nothing from other captures stands in
     *
     * @return array<string, string> markup by address
     */
    public function of(string $html, Url $base, ReadCapture $as, bool $only): array
    {
        $found = [];
        $left = self::MOST_BYTES;
        foreach (self::addresses($html, $base) as $address) {
            $place = $this->holdings->find($address, $as, 'GET', null);
            $isThere = null !== $place && $place->status < 300 && (!$only || $place->fileId === $as->fileId);
            $svg = $isThere ? $this->markup($place, $left) : null;
            if (null !== $svg) {
                $found[$address] = $svg;
                $left -= \strlen($svg);
            }
        }

        return $found;
    }

    /** @return list<string> */
    private static function addresses(string $html, Url $base): array
    {
        preg_match_all(self::USE, $html, $uses, \PREG_SET_ORDER | \PREG_UNMATCHED_AS_NULL);
        $addresses = [];
        foreach ($uses as $use) {
            $reference = html_entity_decode((string) ($use[1] ?? $use[2] ?? $use[3]), \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
            $url = Url::tryParse($reference, $base);
            if (null !== $url && $url->isWeb() && \count($addresses) < self::MOST) {
                $addresses[(string) $url->withoutFragment()] = true;
            }
        }

        return array_map(strval(...), array_keys($addresses));
    }

    private function markup(RecordPlace $place, int $most): ?string
    {
        try {
            $answer = $this->holdings->answer($place->path, $place->offset);
            $bytes = Body::collect(Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []), $most + 1);
        } catch (WarcError|UnsupportedCoding|TooLarge) {
            return null;
        }

        return \strlen($bytes) > $most ? null : Charset::text($bytes, 'image/svg+xml;'.$answer->head?->fields->get('Content-Type'));
    }
}
