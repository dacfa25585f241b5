<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** The lines of a PDF file with their links, as poppler's `pdftohtml -xml` writes them, put together to paragraphs. */
final readonly class PdfDraft implements Draft
{
    /** @param string $xml its output */
    public function __construct(private string $xml)
    {
    }

    public function stretches(): array
    {
        $stretches = [];
        foreach ($this->paragraphs() as $lines) {
            $stretch = $this->stretch($lines);
            if (null !== $stretch) {
                $stretches[] = $stretch;
            }
        }

        return $stretches;
    }

    /**
     * @return \Generator<int, list<array{string, list<array{int, int, string}>}>> lines: text, and what is linked in it
     */
    private function paragraphs(): \Generator
    {
        $lines = [];
        $bottom = $top = $height = 0;
        $text = '';
        $links = [];
        $link = null;
        $inText = false;
        // Its head names a document type that nobody needs.
        $xml = (string) preg_replace('/<!DOCTYPE[^<>]*>/', '', $this->xml, 1);
        foreach (XmlScanner::read(mb_scrub($xml), 'PDF') as $piece) {
            if ('' === $piece->name) {
                $text .= $inText ? $piece->text : '';
            } elseif ('a' === $piece->name && $inText) {
                if (!$piece->closes) {
                    $link = [\strlen($text), $piece->attribute('href') ?? ''];
                } elseif (null !== $link) {
                    $links[] = [$link[0], \strlen($text), $link[1]];
                    $link = null;
                }
            } elseif ('text' === $piece->name && !$piece->closes) {
                [$inText, $text, $links, $link] = [!$piece->isEmpty, '', [], null];
                [$top, $height] = [(int) $piece->attribute('top'), (int) $piece->attribute('height')];
            } elseif ('text' === $piece->name) {
                $inText = false;
                $isSame = [] !== $lines && abs($top + $height - $bottom) <= max(2, $height / 2);
                $isNext = [] !== $lines && $top >= $bottom - $height && $top - $bottom < 0.6 * max(1, $height);
                $begins = !$isSame && 1 === preg_match('/^\s*(?:\[\d{1,4}\]|\d{1,4}[.)]?)\s+\S/', $text);
                if ($isSame) {
                    $lines[\count($lines) - 1] = self::joined($lines[\count($lines) - 1], $text, $links);
                } elseif ($isNext && !$begins) {
                    $lines[] = [$text, $links];
                } else {
                    if ([] !== $lines) {
                        yield $lines;
                    }
                    $lines = [[$text, $links]];
                }
                $bottom = $top + $height;
            }
        }
        if ([] !== $lines) {
            yield $lines;
        }
    }

    /**
     * @param array{string, list<array{int, int, string}>} $line
     * @param list<array{int, int, string}> $links
     *
     * @return array{string, list<array{int, int, string}>}
     */
    private static function joined(array $line, string $text, array $links): array
    {
        $glue = 1 === preg_match('/\s$/', $line[0]) || 1 === preg_match('/^[\s.,;:)]/', $text) ? '' : ' ';
        $at = \strlen($line[0].$glue);

        return [
            $line[0].$glue.$text,
            [...$line[1], ...array_map(static fn (array $link): array => [$link[0] + $at, $link[1] + $at, $link[2]], $links)],
        ];
    }

    /** @param list<array{string, list<array{int, int, string}>}> $lines */
    private function stretch(array $lines): ?Stretch
    {
        $text = '';
        $links = [];
        foreach ($lines as [$line, $some]) {
            $text = rtrim($text);
            $text .= '' === $text || $this->goesOn($text, ltrim($line)) ? '' : ' ';
            $shift = \strlen($text) - (\strlen($line) - \strlen(ltrim($line)));
            $text .= ltrim($line);
            foreach ($some as [$from, $to, $href]) {
                $last = $links[\count($links) - 1] ?? null;
                // One link over several lines.
                if (null !== $last && $last[2] === $href && $from + $shift - $last[1] <= 1) {
                    $links[\count($links) - 1][1] = $to + $shift;
                } else {
                    $links[] = [max(0, $from + $shift), $to + $shift, $href];
                }
            }
        }
        if ('' === trim($text)) {
            return null;
        }
        $note = 1 === preg_match('/^\s*(?:\[(\d{1,4})\]|(\d{1,4})[.)]?)\s+\S/', $text, $m) ? ('' === $m[1] ? $m[2] ?? '' : $m[1]) : null;
        $spots = array_map(
            static fn (array $link): Spot => new Spot(
                $link[2], $link[0], $link[1] - $link[0], substr($text, $link[0], $link[1] - $link[0]), ['kind' => 'pdf'],
            ),
            $links,
        );
        foreach (BareAddresses::in($text) as [$written, $at]) {
            $isLinked = array_filter($links, static fn (array $link): bool => $link[0] < $at + \strlen($written) && $link[1] > $at);
            if ([] === $isLinked) {
                $spots[] = new Spot($written, $at, \strlen($written), $written, ['kind' => 'pdf']);
            }
        }
        usort($spots, static fn (Spot $a, Spot $b): int => $a->at <=> $b->at);

        return new Stretch($text, $spots, [] === $spots ? null : $note);
    }

    /** Whether an address was broken at the end of a line. */
    private function goesOn(string $text, string $next): bool
    {
        $last = BareAddresses::in($text);
        if ([] === $last || !str_ends_with($text, $last[\count($last) - 1][0]) && 1 !== preg_match('~https?://\S*[/.?=&_-]$~', $text)) {
            return false;
        }
        $word = (string) strtok($next, " \t");

        return 1 === preg_match('~[/?=&_%#-]$~', $text) || 1 === preg_match('~^[/?=&_%#.-]\S~', $next)
            || 1 === preg_match('~^[^\s(\[]*[a-z0-9][/?=&_%#-][a-z0-9][^\s]*~i', $word);
    }
}
