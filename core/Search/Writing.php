<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/** A text as it is looked through: in pieces, each with what it is. Two that are the same are one. */
final readonly class Writing
{
    /** More of a text is not looked through, in bytes. */
    public const LONGEST = 4_194_304;
    private const LONGEST_PIECE = 20_000;
    /** So much of a text says what it is like, in bytes. */
    private const MOST_LIKENESS = 200_000;
    /** Stands between pieces, and where one has no words. */
    private const NOTHING = '.';
    private const AROUND = '/(?:^|'
        .' )(?:nav|footer|aside|menu|form|button|select)(?:[#.:]|$)|[#.](?:\w*-)?(?:nav(?:bar|igation)?|menu|footer|sidebar|'
        .'breadcrumbs?|cookies?|related|share|social|banner)(?:-\w*)?[.:]/i';

    /**
     * @param list<Piece> $pieces in reading order, without the empty ones
     * @param string|null $language ISO 639-1; null if it is not known
     * @param bool $isCut whether there is more than is looked through
     */
    public function __construct(public array $pieces, public ?string $language, public bool $isCut = false)
    {
    }

    public static function ofDocument(Document $document): self
    {
        $pieces = [];
        $length = 0;
        $isCut = $document->isCut;
        $pictures = [];
        foreach ($document->pictures as $picture) {
            if ('' !== trim($picture->alt)) {
                $pictures[$picture->behind][] = $picture->alt;
            }
        }
        $add = static function (Part $part, string $text, int $passage) use (&$pieces, &$length, &$isCut): void {
            if ('' === $text || $length >= self::LONGEST) {
                $isCut = $isCut || '' !== $text;

                return;
            }
            $text = mb_strcut($text, 0, self::LONGEST - $length);
            $length += \strlen($text);
            foreach (self::parted($text) as $some) {
                $pieces[] = new Piece($part, $some, $passage);
            }
        };
        $add(Part::Title, $document->title, -1);
        $count = \count($document->passages);
        for ($n = 0; $n < $count; $n = $next) {
            $first = $document->passages[$n];
            foreach ($pictures[$n] ?? [] as $alt) {
                $add(self::isAround($first) ? Part::Rest : Part::Main, $alt, $n);
            }
            [$text, $next] = [$first->text, $n + 1];
            while (PassageKind::Sentence === $first->kind && $next < $count && !isset($pictures[$next])
                && $document->passages[$next]->block === $first->block && PassageKind::Sentence === $document->passages[$next]->kind) {
                $text .= ' '.$document->passages[$next++]->text;
            }
            $add(PassageKind::Heading === $first->kind && !self::isAround($first) ? Part::Heading
                : (self::isAround($first) ? Part::Rest : Part::Main), $text, $n);
        }
        foreach ($pictures[$count] ?? [] as $alt) {
            $add(Part::Main, $alt, $count - 1);
        }
        $language = self::language($document, $pieces);

        return new self($pieces, $language, $isCut);
    }

    /**
     * With what was written beside it.
     *
     * @param list<string> $texts
     */
    public function about(array $texts): self
    {
        $pieces = $this->pieces;
        foreach ($texts as $text) {
            $text = trim($text);
            if ('' !== $text) {
                $pieces[] = new Piece(Part::About, mb_strcut($text, 0, self::LONGEST));
            }
        }

        return new self($pieces, $this->language, $this->isCut);
    }

    /**
     * With what else it shows.
     *
     * @param list<Piece> $more
     */
    public function and(array $more): self
    {
        $length = array_sum(array_map(static fn (Piece $piece): int => \strlen($piece->text), $this->pieces));
        [$pieces, $isCut] = [$this->pieces, $this->isCut];
        foreach ($more as $piece) {
            $length += \strlen($piece->text);
            if ($length > self::LONGEST) {
                $isCut = true;
                break;
            }
            foreach (self::parted($piece->text) as $text) {
                $pieces[] = new Piece($piece->part, $text, $piece->passage);
            }
        }

        return new self($pieces, $this->language, $isCut);
    }

    /** The words of its parts as the index takes them, parted by blanks; between two pieces stands what nobody can ask for. */
    public function words(Part ...$parts): string
    {
        return self::joined(array_map(static fn (Piece $piece): string => implode(' ', Folding::words($piece->text)), array_values(
            array_filter($this->pieces, static fn (Piece $piece): bool => \in_array($piece->part, $parts, true)),
        )));
    }

    /** @param list<string> $pieces words of each, parted by blanks */
    public static function joined(array $pieces): string
    {
        return implode(' '.self::NOTHING.' ',
            array_map(static fn (string $words): string => '' === $words ? self::NOTHING : $words, $pieces));
    }

    /**
     * The words of each piece again.
     *
     * @param string $words of {@see words()}
     *
     * @return list<string> parted by blanks
     */
    public static function segments(string $words): array
    {
        return '' === $words ? [] : explode(' '.self::NOTHING.' ', $words);
    }

    /** What it is like; null of one that is too short to say. What stands around its main text does not count. */
    public function likeness(): ?Fingerprint
    {
        $text = [];
        foreach ($this->pieces as $piece) {
            if (Part::Main === $piece->part || Part::Heading === $piece->part) {
                $text[] = $piece->text;
            }
        }

        return Fingerprint::ofWords(Folding::words(mb_strcut(implode("\n", $text), 0, self::MOST_LIKENESS)));
    }

    /** Equal for writings that are the same. */
    public function digest(): string
    {
        $hash = hash_init('sha256');
        hash_update($hash, ($this->language ?? '')."\n");
        foreach ($this->pieces as $piece) {
            hash_update($hash, $piece->part->value.' '.$piece->text."\n");
        }

        return substr(hash_final($hash, true), 0, 16);
    }

    /** As it is kept. */
    public function pack(): string
    {
        $lines = [];
        foreach ($this->pieces as $piece) {
            $lines[] = $piece->part->value.' '.$piece->passage.' '.strtr($piece->text, "\n", ' ');
        }

        return (string) gzdeflate(implode("\n", $lines), 6);
    }

    /** @return list<Piece> of {@see pack()} */
    public static function unpack(string $packed): array
    {
        $text = @gzinflate($packed);
        $pieces = [];
        foreach (false === $text || '' === $text ? [] : explode("\n", $text) as $line) {
            [$part, $passage, $words] = explode(' ', $line, 3) + ['', '', ''];
            $pieces[] = new Piece(Part::tryFrom((int) $part) ?? Part::Rest, $words, (int) $passage);
        }

        return $pieces;
    }

    private static function isAround(Passage $passage): bool
    {
        return 1 === preg_match(self::AROUND, $passage->path)
            || (1 === preg_match('/(?:^| )header[#.:]/', $passage->path)
                && 1 !== preg_match('/(?:^| )(?:main|article)[#.:]/', $passage->path));
    }

    /**
     * A piece that nobody would write is several: each is looked at as a whole.
     *
     * @return list<string>
     */
    private static function parted(string $text): array
    {
        $parts = [];
        while (\strlen($text) > self::LONGEST_PIECE) {
            $part = mb_strcut($text, 0, self::LONGEST_PIECE);
            $space = strrpos($part, ' ');
            // Not within a word, unless it is one that nobody would ask for.
            $part = false === $space || $space < self::LONGEST_PIECE / 2 ? $part : substr($part, 0, $space);
            $parts[] = $part;
            $text = ltrim(substr($text, \strlen($part)));
        }

        return '' === $text ? $parts : [...$parts, $text];
    }

    /** Whether what is of that media type is a page that names its pictures. */
    public static function isOfPage(string $type): bool
    {
        return 1 === preg_match('#html|^$#i', $type);
    }

    /** @param list<Piece> $pieces */
    private static function language(Document $document, array $pieces): ?string
    {
        $said = strtolower(substr($document->language ?? '', 0, 2));
        if (1 === preg_match('/^[a-z]{2}$/', $said) && !\in_array(substr($document->language ?? '', 2, 1), range('a', 'z'), true)) {
            return $said;
        }
        $text = '';
        foreach ($pieces as $piece) {
            $text .= $piece->text."\n";
            if (\strlen($text) > 20_000) {
                break;
            }
        }

        return Tongue::of($text);
    }
}
