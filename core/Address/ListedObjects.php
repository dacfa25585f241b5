<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * Gathers pages out of objects in objects, as sessions, bookmarks and reading lists of browsers have them: each that has an address and,
 * near it, a title. A tab holds all pages that it went through; the one that it shows is taken.
 */
final class ListedObjects
{
    public const DEEPEST = 200;
    private const ADDRESS = '/^(?:url|uri|href|link|address|location|urlstring|page_?url)$/i';
    private const TITLE = '/^(?:title|name|label)$/i';

    /**
     * What lies open: its key above, its own address, title and line, the pages in it, those that a tab went
     * through, and which of them is shown.
     *
     * @var list<array{key: string, url: string|null, title: string, line: int, in: list<ListedAddress>, tab: list<ListedAddress>,
     * shown: int|null}>
     */
    private array $open = [];
    /** @var list<ListedAddress> */
    private array $done = [];
    private int $count = 0;

    /** @param int $most pages that are gathered */
    public function __construct(private readonly int $most)
    {
    }

    public function isFull(): bool
    {
        return $this->count >= $this->most || \count($this->open) > self::DEEPEST;
    }

    /** An object or a list begins. */
    public function open(string $key, int $line): void
    {
        $this->open[] = ['key' => $key, 'url' => null, 'title' => '', 'line' => $line, 'in' => [], 'tab' => [], 'shown' => null];
    }

    public function close(): void
    {
        $one = array_pop($this->open);
        if (null === $one) {
            return;
        }
        $tab = $one['tab'];
        if (null !== $one['shown'] && [] !== $tab) {
            $tab = [$tab[min(\count($tab), max(1, $one['shown'])) - 1]];
        }
        $in = [...$tab, ...$one['in']];
        if (null !== $one['url']) {
            array_unshift($in, new ListedAddress($one['url'], $one['title'], $one['line']));
            ++$this->count;
        }
        $above = array_key_last($this->open);
        if (null === $above) {
            array_push($this->done, ...$in);

            return;
        }
        if ('entries' === $one['key']) {
            array_push($this->open[$above]['tab'], ...$in);
        } else {
            array_push($this->open[$above]['in'], ...$in);
        }
        // Some keep the title one step further in than the address.
        if ([] === $in && '' !== $one['title'] && '' === $this->open[$above]['title']) {
            $this->open[$above]['title'] = $one['title'];
        }
    }

    /** What lies open was no object: it goes, with what is in it. */
    public function drop(): void
    {
        array_pop($this->open);
    }

    public function text(string $key, string $value, int $line): void
    {
        $here = array_key_last($this->open);
        if (null === $here) {
            return;
        }
        if (null === $this->open[$here]['url'] && 1 === preg_match(self::ADDRESS, $key) && 1 === preg_match('~^https?://\S~i', $value)) {
            $url = Url::tryParse($value);
            if (null !== $url && $url->isWeb()) {
                $this->open[$here]['url'] = (string) $url->withoutFragment();
                $this->open[$here]['line'] = $line;
            }
        } elseif (1 === preg_match(self::TITLE, $key) && '' !== trim($value)) {
            $this->open[$here]['title'] = mb_strimwidth(trim($value), 0, 300, '…');
        }
    }

    /** Which page of a tab is shown, counted from 1. */
    public function number(string $key, int $value): void
    {
        $here = array_key_last($this->open);
        if (null !== $here && 'index' === $key) {
            $this->open[$here]['shown'] = $value;
        }
    }

    /** @return list<ListedAddress> */
    public function all(): array
    {
        while ([] !== $this->open) {
            $this->close();
        }

        return $this->done;
    }
}
