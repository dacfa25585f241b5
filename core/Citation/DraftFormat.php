<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** The formats in which references are read. */
enum DraftFormat: string
{
    case Plain = 'text';
    case Markdown = 'markdown';
    case Html = 'html';
    case Docx = 'docx';
    case Odt = 'odt';
    case BibTex = 'bibtex';
    case Ris = 'ris';
    case Csl = 'csl-json';
    case Csv = 'csv';
    case Pdf = 'pdf';

    /** By what the file begins with, and where that tells nothing, by its name. */
    public static function of(string $beginning, string $name): self
    {
        $extension = strtolower(pathinfo($name, \PATHINFO_EXTENSION));
        if (str_starts_with($beginning, '%PDF-')) {
            return self::Pdf;
        }
        if (str_starts_with($beginning, "PK\x03\x04")) {
            return 'odt' === $extension || str_contains(substr($beginning, 0, 200), 'opendocument.text') ? self::Odt : self::Docx;
        }
        $text = ltrim((string) preg_replace('/^\xEF\xBB\xBF/', '', $beginning));

        return match (true) {
            'bib' === $extension || 1 === preg_match('/^(?:%[^\n]*\n|\s)*@[a-z]+\s*\{/i', $text) => self::BibTex,
            'ris' === $extension || 1 === preg_match('/^TY  -/m', substr($text, 0, 2_000)) => self::Ris,
            1 === preg_match('/^[\[{]\s*["{\]}]/', $text) && ('json' === $extension || str_contains($text, '"URL"')) => self::Csl,
            'csv' === $extension || 'tsv' === $extension => self::Csv,
            \in_array($extension, ['html', 'htm', 'xhtml'], true)
                || 1 === preg_match(
                    '/^(?:<!--.{0,2000}?-->\s*)?<(?:!doctype html|html|\?xml[^>]*\?>\s*<(?:!doctype html|html))/is', $text,
                ) => self::Html,
            \in_array($extension, ['md', 'markdown', 'mkd', 'qmd', 'rmd'], true) => self::Markdown,
            1 === preg_match('~<a\s[^<>]*\bhref\s*=~i', $text) && 1 !== preg_match('~\]\(https?://|^\[\^[^\]]+\]:~m', $text) => self::Html,
            1 === preg_match('~\]\(<?https?://|^\[[^\]\n]+\]:[ \t]*(?:\S)|<https?://[^\s<>]+>~m', $text) => self::Markdown,
            default => self::Plain,
        };
    }

    /** Whether a document in it can be given back repaired. */
    public function isRepairable(): bool
    {
        return self::Csv !== $this && self::Pdf !== $this;
    }

    public function extension(): string
    {
        return match ($this) {
            self::Plain => 'txt', self::Markdown => 'md', self::BibTex => 'bib', self::Csl => 'json',
            default => $this->value,
        };
    }
}
