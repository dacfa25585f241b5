<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** Files of what the browser made of the page. */
final readonly class Rendering
{
    /**
     * @param string|null $dom the document after scripts, UTF-8 HTML
     * @param string|null $text what a reader sees, UTF-8
     * @param list<string> $pictures PNG tiles of the whole page, from the top on
     * @param list<string> $failures what could not be made, and why
     * @param list<array{url: string, dom: string}> $frames documents of frames after scripts, and where they stand
     */
    public function __construct(
        public ?string $dom = null,
        public ?string $text = null,
        public array $pictures = [],
        public array $failures = [],
        public array $frames = [],
    ) {
    }

    /**
     * @param \Closure(string): string $name of addresses
     */
    public function named(\Closure $name): self
    {
        return new self(
            $this->dom,
            $this->text,
            $this->pictures,
            $this->failures,
            array_map(static fn (array $frame): array => ['url' => $name($frame['url']), 'dom' => $frame['dom']], $this->frames),
        );
    }
}
