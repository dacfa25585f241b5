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

    private ?HtmlSanitizer $sanitizer = null;

    public function html(string $note): string
    {
        $lines = explode("\n", $note);
        foreach (Todos::in($note) as $todo) {
            $lines[$todo->line - 1] = (string) preg_replace('/\[[ xX]\]/', $todo->done ? '☑' : '☐', $lines[$todo->line - 1], 1);
        }
        $markdown = new \Parsedown();
        $markdown->setSafeMode(true);
        $markdown->setBreaksEnabled(false);
        $html = $markdown->text(implode("\n", $lines));

        return (string) preg_replace_callback(
            '~(</?h)([1-6])>~', static fn (array $m): string => $m[1].min(6, (int) $m[2] + self::BELOW).'>',
            $this->sanitizer()->sanitize(\is_string($html) ? $html : ''),
        );
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
