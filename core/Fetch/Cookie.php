<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** A cookie of a cookies.txt file, as browsers and other programs give them out: seven columns, parted by tabs. */
final readonly class Cookie
{
    public function __construct(
        public string $domain,
        public bool $forAll,
        public string $path,
        public bool $secure,
        public string $name,
        public string $value,
    ) {
    }

    /**
     * @return list<self>
     *
     * @throws \InvalidArgumentException with the number of the line that cannot be read
     */
    public static function file(string $text): array
    {
        $cookies = [];
        foreach (explode("\n", str_replace("\r", '', $text)) as $n => $line) {
            $line = (string) preg_replace('/^#HttpOnly_/', '', $line);
            if ('' === trim($line) || str_starts_with($line, '#')) {
                continue;
            }
            $columns = explode("\t", $line);
            if (7 !== \count($columns) || '' === $columns[0] || 1 === preg_match('/[\x00-\x1f;\x7f]/', $columns[5].$columns[6])) {
                throw new \InvalidArgumentException(\sprintf(
                    'Line %d is not a cookie: it needs seven columns separated by tabs, and a value without semicolons.', $n + 1,
                ));
            }
            $cookies[] = new self(
                ltrim($columns[0], '.'),
                'TRUE' === strtoupper($columns[1]) || str_starts_with($columns[0], '.'),
                '' === $columns[2] ? '/' : $columns[2],
                'TRUE' === strtoupper($columns[3]),
                $columns[5],
                $columns[6],
            );
        }

        return $cookies;
    }

    /** As it stands in such a file, without the line's end. */
    public function line(): string
    {
        $word = static fn (bool $is): string => $is ? 'TRUE' : 'FALSE';

        return implode(
            "\t",
            [
                ($this->forAll ? '.' : '').$this->domain, $word($this->forAll), $this->path, $word($this->secure), '0', $this->name,
                $this->value,
            ],
        );
    }
}
