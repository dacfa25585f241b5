<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\Core\Citation\UnreadableDraft;

/** References in the usual styles (CSL, by pandoc in its sandbox), each with where and when it was archived. */
final readonly class CitationWriter
{
    private const STYLES = '/usr/share/citation-style-language/styles';
    private const USUAL = [
        'apa', 'chicago-note-bibliography', 'chicago-author-date', 'modern-language-association', 'harvard-cite-them-right', 'ieee',
        'vancouver', 'american-medical-association', 'modern-humanities-research-association', 'oscola',
        'iso690-author-date-en', 'iso690-numeric-en', 'din-1505-2', 'turabian-fullnote-bibliography', 'american-sociological-association',
        'nature', 'council-of-science-editors',
    ];
    private const SECONDS = 40;

    public function __construct(private TranslatorInterface $translator)
    {
    }

    /**
     * @return array<string, string> titles by name, those that are installed
     */
    public function styles(): array
    {
        $styles = [];
        foreach (self::USUAL as $name) {
            $beginning = @file_get_contents(self::STYLES.'/'.$name.'.csl', false, null, 0, 4_000);
            if (false !== $beginning) {
                $styles[$name] = 1 === preg_match('~<title>([^<]+)</title>~', $beginning, $m)
                    ? html_entity_decode($m[1], \ENT_QUOTES | \ENT_XML1)
                    : $name;
            }
        }

        return $styles;
    }

    /**
     * The same references as CSL-JSON.
     *
     * @param list<ReferenceRow> $rows
     * @param \Closure(string): string $permanent permanent address of a capture, by its code
     *
     * @return list<array<string, mixed>>
     */
    public function items(array $rows, \Closure $permanent): array
    {
        return array_map(static function (ReferenceRow $row) use ($permanent): array {
            $date = static fn (\DateTimeImmutable $day): array => [
                'date-parts' => [[(int) $day->format('Y'), (int) $day->format('n'), (int) $day->format('j')]],
            ];
            $item = [
                'id' => 'r'.$row->position,
                'type' => 'webpage',
                'title' => self::title($row),
                'URL' => $row->url,
                'container-title' => (string) parse_url($row->url, \PHP_URL_HOST),
            ];
            if (null !== $row->accessed) {
                $item['accessed'] = $date($row->accessed);
            }
            $refuge = $row->refuge();
            if (null !== $refuge) {
                $item['archive_location'] = null === $row->capture ? $refuge[0] : $permanent($row->capture);
                $item['custom'] = ['archived' => $refuge[1]->format('Y-m-d\TH:i:s\Z')];
            }

            return $item;
        }, $rows);
    }

    /**
     * @param list<ReferenceRow> $rows
     * @param \Closure(string): string $permanent permanent address of a capture, by its code
     *
     * @return list<array{string, string, string|null, string}> the citation as text, what is said of the archive, the permanent address,
     *     and the note, in the order of the draft
     *
     * @throws UnreadableDraft
     */
    public function write(array $rows, string $style, \Closure $permanent, string $locale): array
    {
        if (!isset($this->styles()[$style])) {
            throw new UnreadableDraft('There is no such style here.');
        }
        $made = $this->standingAlone($style);
        $items = array_map(
            static fn (array $item): array => array_diff_key($item, ['custom' => 0, 'archive_location' => 0]),
            $this->items($rows, $permanent),
        );
        $process = new Process(
            [
                'prlimit', '--as=8589934592', '--cpu='.self::SECONDS, 'pandoc', '+RTS', '-M512m', '-RTS', '--sandbox', '-f', 'csljson',
                '-t', 'html', '--wrap=none', '--citeproc', '--csl', $made, '-M', 'lang='.('en' === $locale ? 'en-GB' : $locale),
            ],
            sys_get_temp_dir(),
            ['PATH' => '/usr/bin:/bin', 'HOME' => '/nonexistent', 'LANG' => 'C.UTF-8'],
            (string) json_encode($items, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE),
            self::SECONDS,
        );
        try {
            $process->mustRun();
        } catch (ProcessFailedException|ProcessTimedOutException) {
            throw new UnreadableDraft('The citations could not be written in this style; try another one.');
        } finally {
            @unlink($made);
        }
        $entries = [];
        foreach (explode('<div id="ref-', $process->getOutput()) as $n => $piece) {
            if ($n > 0 && 1 === preg_match('/^(r\d+)"[^>]*>(.*)/s', $piece, $m)) {
                $entries[$m[1]] = trim((string) preg_replace(
                    '/\s+/u', ' ', html_entity_decode(strip_tags(str_replace('</div>', ' ', $m[2])), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'),
                ));
            }
        }
        $written = [];
        foreach ($rows as $row) {
            $refuge = $row->refuge();
            $address = null === $row->capture ? $refuge[0] ?? null : $permanent($row->capture);
            $said = null === $refuge
                ? ''
                : $this->translator->trans('cite.archived', ['day' => DraftRepair::day($refuge[1], $locale)], locale: $locale);
            $written[] = [$entries['r'.$row->position] ?? $row->url, $said, $address, $row->note ?? (string) $row->position];
        }

        return $written;
    }

    /** @return string path of a copy of the style in which no entry leans on the one before it: here each stands by itself */
    private function standingAlone(string $style): string
    {
        $path = sys_get_temp_dir().'/ypomna-style-'.bin2hex(random_bytes(6)).'.csl';
        file_put_contents(
            $path,
            (string) preg_replace(
                '/\ssubsequent-author-substitute(?:-rule)?="[^"]*"/', '', (string) file_get_contents(self::STYLES.'/'.$style.'.csl'),
            ),
        );

        return $path;
    }

    private static function title(ReferenceRow $row): string
    {
        foreach ([$row->captureTitle, $row->label] as $title) {
            if (null !== $title && '' !== trim($title) && 1 !== preg_match('~^(?:https?://|www\.)~i', $title)) {
                return trim($title);
            }
        }

        return (string) preg_replace('~^https?://~', '', $row->url);
    }
}
