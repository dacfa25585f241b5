<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Http\Fields;

/**
 * Reads an MHTML file or a mail message once, from front to back, in constant memory beside the list of its parts: RFC 2557
 * on RFC 2387 (related), RFC 2046 (multiparts), RFC 2045.
 */
final class MhtmlReader
{
    private const STEP = 65_536;
    private const MAX_HEADER = 262_144;
    private const HEADER_LINE = '/^(?:[!-9;-~]+[ \t]*:|[ \t]|\r*\n|\r*$|From )/';
    private const MAX_DEPTH = 50;
    private const MAX_PARTS = 50_000;

    /** @var list<Entity> */
    private array $leaves = [];
    /** @var list<MhtmlFinding> */
    private array $findings = [];
    /** @var list<string> boundaries that are open, the outermost first */
    private array $boundaries = [];
    /** @var resource */
    private $handle;
    private string $buffer = '';
    private int $at = 0;
    private bool $lineStart = true;

    private function __construct(private readonly string $path)
    {
        $handle = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be opened.', $path));
        }
        $this->handle = $handle;
    }

    /**
     * @throws \RuntimeException if the file cannot be opened
     */
    public static function read(string $path): Archive
    {
        $reader = new self($path);
        try {
            $root = $reader->message();

            return Pages::of($path, $root, $reader->leaves, $reader->findings);
        } finally {
            fclose($reader->handle);
        }
    }

    private function message(): ?Entity
    {
        // Mail boxes and exports put lines before the header that are none.
        while (1 === preg_match('/^(?:From [^\n]*|\xEF\xBB\xBF|[ \t]*\r?)\n?/', $this->peekLine(), $m) && '' !== $m[0]) {
            $this->take(\strlen($m[0]));
        }
        if (1 !== preg_match('/^[!-9;-~]+[ \t]*:/', $this->peekLine())) {
            return null;
        }

        return $this->entity(null, 0);
    }

    private function entity(?Entity $parent, int $depth): Entity
    {
        $entity = new Entity($this->headers(), $parent);
        if ($depth > self::MAX_DEPTH) {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::NotMhtml,
                null,
                \sprintf('Parts lie in parts more than %d deep; what lies deeper is not read.', self::MAX_DEPTH),
            );
            $this->leaf($entity);
        } elseif ($entity->headers->isMultipart()) {
            $this->multipart($entity, $depth);
        } elseif ('message/rfc822' === $entity->headers->mime && \in_array($entity->headers->encoding, ['7bit', '8bit', 'binary'], true)) {
            $entity->children[] = $this->entity($entity, $depth + 1);
        } else {
            $this->leaf($entity);
        }

        return $entity;
    }

    private function multipart(Entity $entity, int $depth): void
    {
        $boundary = $entity->headers->parameter('boundary') ?? '';
        $boundary = rtrim($boundary);
        if ('' === $boundary) {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::NoBoundary, null, 'A multipart names no boundary; the first line that looks like one is taken.',
            );
            $boundary = $this->guessedBoundary();
            if (null === $boundary) {
                $this->skipBody();

                return;
            }
        }
        $this->boundaries[] = $boundary;
        $level = \count($this->boundaries) - 1;
        // The preamble, RFC 2046 section 5.1.1.
        $this->skipBody();
        $begun = false;
        while ([$level, false] === $this->delimiter()) {
            $begun = true;
            $this->takeLine();
            if (\count($this->leaves) >= self::MAX_PARTS) {
                $this->findings[] = new MhtmlFinding(
                    MhtmlFindingCode::NotMhtml, null, \sprintf('The file has more than %d parts; the rest is not read.', self::MAX_PARTS),
                );
                $this->at = \PHP_INT_MAX;
                $this->buffer = '';
                $this->offset = 0;
                break;
            }
            $entity->children[] = $this->entity($entity, $depth + 1);
            $this->skipBody();
        }
        if ([$level, true] === $this->delimiter()) {
            $this->takeLine();
        } elseif (!$begun) {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::NoBoundary,
                null,
                \sprintf('The boundary “%s” that a multipart names stands nowhere in it.', mb_strimwidth(mb_scrub($boundary), 0, 80, '…')),
            );
        } else {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::UnclosedBoundary,
                null,
                \sprintf(
                    'The multipart with the boundary “%s” is not closed; the file may have been cut off.',
                    mb_strimwidth(mb_scrub($boundary), 0, 80, '…'),
                ),
            );
        }
        array_pop($this->boundaries);
        if ([] === $this->boundaries) {
            // The epilogue.
            $this->skipBody();
        }
    }

    private function leaf(Entity $entity): void
    {
        $entity->index = \count($this->leaves);
        $this->leaves[] = $entity;
        $entity->bodyAt = $entity->bodyEnd = $this->position();
        $decoder = new TransferDecoder($entity->headers->encoding);
        $context = hash_init('sha256');
        foreach ($this->body() as $piece) {
            $entity->bodyEnd += \strlen($piece);
            $out = $decoder->push($piece);
            hash_update($context, $out);
            $entity->bytes += \strlen($out);
        }
        $out = $decoder->end();
        hash_update($context, $out);
        $entity->bytes += \strlen($out);
        $entity->sha256 = hash_final($context);
        if (null !== $decoder->problem) {
            $entity->findings[] = new MhtmlFinding(MhtmlFindingCode::BadEncoding, $entity->index, ucfirst($decoder->problem).'.');
        }
    }

    private function headers(): Headers
    {
        $text = '';
        while ('' !== ($line = $this->peekLine()) && null === $this->delimiter()) {
            if ($this->lineStart && 1 !== preg_match(self::HEADER_LINE, $line)) {
                // The body begins without the empty line that should part it from its header.
                break;
            }
            $this->take(\strlen($line));
            if ('' === rtrim($line, "\r\n") && $this->lineStart) {
                break;
            }
            $text .= \strlen($text) < self::MAX_HEADER ? $line : '';
        }

        return new Headers(Fields::parse($text), Fields::parse((string) preg_replace('/\r?\n[ \t]++/', '', $text)));
    }

    /**
     * The lines up to the next delimiter of an open boundary; the line end before it belongs to the delimiter.
     *
     * @return \Generator<int, string>
     */
    private function body(): \Generator
    {
        $held = '';
        while ('' !== ($line = $this->peekLine())) {
            if ($this->lineStart && null !== $this->delimiter()) {
                return;
            }
            $this->take(\strlen($line));
            $body = rtrim($line, "\r\n");
            $end = substr($line, \strlen($body));
            // Of several carriage returns only the last belongs to the line end.
            $extra = (string) preg_replace('/\r?\n$/D', '', $end);
            if ('' !== $held.$body.$extra) {
                yield $held.$body.$extra;
            }
            $held = substr($end, \strlen($extra));
        }
        if ('' !== $held) {
            yield $held;
        }
    }

    private function skipBody(): void
    {
        foreach ($this->body() as $ignored) {
        }
    }

    /**
     * Whether the next line is a delimiter.
     *
     * @return array{int, bool}|null which open boundary's, and whether it closes it
     */
    private function delimiter(): ?array
    {
        if ([] === $this->boundaries) {
            return null;
        }
        $line = $this->peekLine();
        if (!str_starts_with($line, '--')) {
            return null;
        }
        $line = rtrim($line);
        // The outermost first: one that an inner part uses again is the outer one's (RFC 2046 section 5.1.2).
        foreach ($this->boundaries as $level => $boundary) {
            if ($line === '--'.$boundary) {
                return [$level, false];
            }
            if ($line === '--'.$boundary.'--') {
                return [$level, true];
            }
        }

        return null;
    }

    private function guessedBoundary(): ?string
    {
        for ($tries = 0; $tries < 1_000 && '' !== ($line = $this->peekLine()) && null === $this->delimiter(); ++$tries) {
            if (1 === preg_match('/^--([^\s-][^\r\n]{0,68}?|-{2,}[^\r\n-][^\r\n]{0,66}?)[ \t]*\r?\n/', $line, $m)) {
                return $m[1];
            }
            $this->take(\strlen($line));
        }

        return null;
    }

    private function takeLine(): void
    {
        do {
            $line = $this->peekLine();
            $this->take(\strlen($line));
        } while ('' !== $line && !str_ends_with($line, "\n"));
    }

    /** The next line with its end, or as much of it as is read at once; '' at the end of the file. */
    private function peekLine(): string
    {
        while (false === ($lf = strpos($this->buffer, "\n", $this->offset)) && \strlen($this->buffer) - $this->offset < self::STEP) {
            $piece = \PHP_INT_MAX === $this->at ? '' : (string) fread($this->handle, self::STEP);
            if ('' === $piece) {
                break;
            }
            $this->buffer = substr($this->buffer, $this->offset).$piece;
            $this->offset = 0;
        }
        $lf = strpos($this->buffer, "\n", $this->offset);
        $length = false === $lf ? \strlen($this->buffer) - $this->offset : $lf + 1 - $this->offset;
        if (false === $lf && $length > 1 && \strlen($this->buffer) >= self::STEP && str_ends_with($this->buffer, "\r")) {
            // A line end must not be cut in two.
            --$length;
        }

        return substr($this->buffer, $this->offset, $length);
    }

    private int $offset = 0;

    private function take(int $bytes): void
    {
        if ($bytes > 0) {
            $this->lineStart = "\n" === $this->buffer[$this->offset + $bytes - 1];
            $this->offset += $bytes;
            $this->at += \PHP_INT_MAX === $this->at ? 0 : $bytes;
        }
    }

    private function position(): int
    {
        return $this->at;
    }
}
