<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\MessageHead;

/**
 * Fields that a person adds to the requests of a capture. They may sign the person in, so they go to the page's own origin, and to
 * nobody else whom the page asks for something, unless the person wants that.
 */
final readonly class FurtherFields
{
    /**
     * @param array<string, string> $fields values by name
     * @param Url|null $page whose origin gets them; null: everybody
     * @param bool $uncoded whether answers are asked for uncoded, so that what is to be overwritten can be found in them
     */
    public function __construct(private array $fields, private ?Url $page, private bool $uncoded = false)
    {
    }

    /** The head of a request to that address, with them. */
    public function in(Url $url, string $head): string
    {
        $fields = $this->isMeant($url) ? $this->fields : [];
        if ($this->uncoded) {
            $fields = ['Accept-Encoding' => 'identity'] + $fields;
        }
        foreach ($fields as $name => $value) {
            $head = self::set($head, self::plain($name), self::plain($value));
        }

        return $head;
    }

    private function isMeant(Url $url): bool
    {
        if (null === $this->page || $url->origin() === $this->page->origin()) {
            return true;
        }

        // The same host by the same name, only no longer in clear.
        return 'http' === $this->page->scheme && null === $this->page->port
            && $url->origin() === $this->page->withScheme('https')->origin();
    }

    /**
     * In the place of a field of that name; a request has one Cookie field (RFC 6265, section 5.4), so what stands there already
     * stays in front.
     */
    private static function set(string $head, string $name, string $value): string
    {
        $line = '/^'.preg_quote($name, '/').'[ \t]*:[ \t]*([^\r\n]*)\r?\n/im';
        if ('cookie' === strtolower($name) && 1 === preg_match($line, $head, $m) && !str_contains($m[1], $value)) {
            $value = $m[1].'; '.$value;
        }
        $head = (string) preg_replace($line, '', $head);
        $end = MessageHead::end($head) ?? \strlen($head);
        $blank = str_ends_with(substr($head, 0, $end), "\r\n\r\n") ? 2 : 1;

        return substr($head, 0, $end - $blank).$name.': '.$value."\r\n".substr($head, $end - $blank);
    }

    private static function plain(string $text): string
    {
        return trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', $text));
    }
}
