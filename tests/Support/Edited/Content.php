<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/** What a page says, apart from how it is laid out. */
final class Content
{
    /** So many paragraphs stand before the second heading. */
    public int $split = 4;

    /**
     * @param list<string> $headings
     * @param list<list<string>> $paragraphs sentences
     * @param list<string> $items
     * @param list<list<string>> $rows of a table, the first names the columns
     * @param list<array{string, string}> $links words and address
     * @param list<string> $pictures
     */
    public function __construct(
        public string $title,
        public array $headings,
        public array $paragraphs,
        public array $items,
        public array $rows,
        public array $links,
        public array $pictures,
        public string $space = ' ',
    ) {
    }

    public static function make(Chance $chance, Sentences $sentences): self
    {
        $paragraphs = [];
        for ($i = 0; $i < 7; ++$i) {
            $paragraphs[] = array_map(static fn (): string => $sentences->one(), range(1, $chance->between(2, 4)));
        }
        $rows = [['Pier', 'Departure', 'Arrival', 'Ship']];
        for ($i = 0; $i < 6; ++$i) {
            $rows[] = [
                'Pier '.\chr(65 + $i),
                \sprintf('%02d:%02d', $chance->between(6, 12), 5 * $chance->between(0, 11)),
                \sprintf('%02d:%02d', $chance->between(12, 22), 5 * $chance->between(0, 11)),
                $chance->of(['Petrel Dawn', 'Curlew']),
            ];
        }

        return new self(
            $sentences->name(), [$sentences->name(), $sentences->name()], $paragraphs,
            array_map(static fn (): string => $sentences->name(), range(1, 6)), $rows,
            [['Notices', '/notices'], ['Log', '/log/7'], ['Read more', '/a/1'], ['Read more', '/a/2']],
            ['/p/door.png', '/p/ramp.jpg', '/p/map.svg'], 'ja' === $sentences->language ? '' : ' ',
        );
    }
}
