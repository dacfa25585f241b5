<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Symfony\Component\HtmlSanitizer\HtmlSanitizer;
use Symfony\Component\HtmlSanitizer\HtmlSanitizerConfig;
use Ypomna\Core\Desk\Todos;

/**
 * A note as it looks. It is written by people, and may be written by those who mean no good: no script, no frame, no form, nothing
 * from outside; whatever else stands in it passes the sanitiser.
 */
final class NoteText
{
    /** The screen has headings of its own above those of a note. */
    private const BELOW = 1;
    private const BEGIN = "\u{E0A0}";
    private const END = "\u{E0A1}";

    private ?HtmlSanitizer $sanitizer = null;

    /** @param bool $places whether each heading is a place that others can lead to, `#in-` and its words, and each to-do says its line */
    public function html(string $note, bool $places = false): string
    {
        // The signs by which to-dos are found again stand in no text of people.
        $lines = explode("\n", strtr($note, [self::BEGIN => '', self::END => '']));
        $todos = Todos::in($note);
        foreach ($todos as $n => $todo) {
            $lines[$todo->line - 1] = (string) preg_replace(
                '/\[[ xX]\]/', $places ? self::BEGIN.$n.self::END : ($todo->done ? '☑' : '☐'), $lines[$todo->line - 1], 1,
            );
        }
        $markdown = new \Parsedown();
        $markdown->setSafeMode(true);
        $markdown->setBreaksEnabled(false);
        $html = $markdown->text(implode("\n", $lines));

        $names = [];

        $html = (string) preg_replace_callback(
            '~<h([1-6])>(.*?)</h\1>~s',
            static function (array $m) use (&$names, $places): string {
                $level = min(6, (int) $m[1] + self::BELOW);
                if (!$places) {
                    return \sprintf('<h%1$d>%2$s</h%1$d>', $level, $m[2]);
                }
                $name = self::place($m[2]);
                $names[$name] = ($names[$name] ?? 0) + 1;

                return \sprintf('<h%1$d id="%3$s">%2$s</h%1$d>', $level, $m[2], $name.(1 === $names[$name] ? '' : '-'.$names[$name]));
            },
            $this->sanitizer()->sanitize(\is_string($html) ? $html : ''),
        );

        return (string) preg_replace_callback('/'.self::BEGIN.'(\d{1,5})'.self::END.'/u', static function (array $m) use ($todos): string {
            $todo = $todos[(int) $m[1]] ?? null;

            return null === $todo ? '' : \sprintf(
                '<span class="box" data-todo="%d" data-text="%s">%s</span>', $todo->line, htmlspecialchars($todo->text),
                $todo->done ? '☑' : '☐',
            );
        }, $html);
    }

    /** A heading as it stands in an address: its letters and digits. */
    private static function place(string $html): string
    {
        $words = mb_strtolower(html_entity_decode(strip_tags($html), \ENT_QUOTES | \ENT_HTML5));

        return 'in-'.mb_substr(trim((string) preg_replace('/[^\p{L}\p{M}\p{N}]+/u', '-', $words), '-'), 0, 60);
    }

    private function sanitizer(): HtmlSanitizer
    {
        return $this->sanitizer ??= new HtmlSanitizer(
            (new HtmlSanitizerConfig())
                ->allowElement('p')->allowElement('br')->allowElement('hr')->allowElement('blockquote')
                ->allowElement('h1')->allowElement('h2')->allowElement('h3')->allowElement('h4')->allowElement('h5')->allowElement('h6')
                ->allowElement('ul')->allowElement('ol', ['start'])->allowElement('li')
                ->allowElement('em')->allowElement('strong')->allowElement('del')->allowElement('code', ['class'])->allowElement('pre')
                ->allowElement('table')->allowElement('thead')->allowElement('tbody')->allowElement('tr')->allowElement('th', ['style'])
                ->allowElement('td')
                ->allowElement('a', ['href', 'title'])->allowElement('img', ['src', 'alt', 'title'])
                ->dropAttribute('style', '*')
                ->forceAttribute('a', 'rel', 'noopener noreferrer nofollow')
                ->allowLinkSchemes(['http', 'https', 'mailto'])->allowRelativeLinks()
                // Pictures are ours, or there is none: a picture from outside would tell who reads, and when.
                ->allowMediaHosts([])->allowMediaSchemes([])->allowRelativeMedias()
                ->withMaxInputLength(8_388_608),
        );
    }
}
