<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Html\CharacterReferences;

/** HTML: links, and addresses that are simply written. Notes are blocks that a link in the text leads to. */
final class HtmlDraft implements Repairable
{
    private const RAW = ['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes', 'template'];
    private const BLOCKS = [
        'p', 'li', 'div', 'td', 'th', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'dt', 'dd', 'blockquote', 'pre', 'section', 'article', 'aside',
        'figcaption', 'caption', 'tr', 'table', 'ul', 'ol', 'body', 'footer', 'header', 'main', 'nav', 'details', 'summary',
    ];
    private const TAG = '~<(/?)([a-z][^\s/>\x00]*+)((?:[^<>"\']++|"[^"]*+"|\'[^\']*+\')*+)>~Ai';
    private const MOST_TAGS = 500_000;
    private const MOST_ATTRIBUTES = 500;
    /** Blocks with text or addresses; more are not read. */
    private const MOST_BLOCKS = 100_000;

    private ?Url $base = null;
    private string $text = '';
    /** @var list<Spot> */
    private array $spots = [];
    /** @var list<array{int, string}> where in the text, and the target within the document */
    private array $marks = [];
    /** @var list<string> ids of the blocks that are open since the stretch began */
    private array $ids = [];
    /** @var list<array{string, list<Spot>, list<string>, list<array{int, string}>}> */
    private array $done = [];
    /** @var array<string, string> what leads into the document: label by target */
    private array $inner = [];
    /**
     * @var array{int, int, int, string, string}|null place of the address in the source, its length, where its text begins, address,
     *     quotation mark
     */
    private ?array $link = null;
    private ?int $innerAt = null;
    private string $innerTarget = '';

    /** @param string $source UTF-8 */
    public function __construct(private readonly string $source)
    {
    }

    public function stretches(): array
    {
        $this->scan();
        $this->flush();
        $stretches = new Gathered();
        foreach ($this->done as [$text, $spots, $ids, $marks]) {
            $note = null;
            foreach ($ids as $id) {
                $note ??= $this->inner[$id] ?? null;
            }
            $stretches->add(new Stretch(
                $text,
                $spots,
                $note,
                null === $note ? array_map(fn (array $mark): array => [$mark[0], $this->inner[$mark[1]] ?? ''], $marks) : [],
            ));
        }

        return $stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        $escape = static fn (string $text): string => htmlspecialchars($text, \ENT_QUOTES | \ENT_SUBSTITUTE, 'UTF-8');
        foreach ($repairs as $repair) {
            $day = '<time datetime="'.$escape($repair->isoDay).'">'.$escape($repair->day).'</time>';
            if ('link' === $repair->kind()) {
                $quote = $repair->place['quote'] ?? '';
                $value = '' === $quote ? '"'.$escape($repair->permanent).'"' : $escape($repair->permanent);
                $splices->add($repair->place('at'), $repair->place('length'), $value);
                $splices->add(
                    $repair->place('end'),
                    0,
                    ' <span class="archived">('.$escape($wording->archived).' '.$day.'; <a href="'.$escape($repair->original).'">'
                        .$escape(rtrim($wording->original, ': ')).'</a>)</span>',
                );
            } else {
                $splices->add(
                    $repair->place('at'),
                    $repair->place('length'),
                    '<a href="'.$escape($repair->permanent).'">'.substr($this->source, $repair->place('at'), $repair->place('length'))
                        .'</a> <span class="archived">('.$escape($wording->archived).' '.$day.')</span>',
                );
            }
        }
        $splices->write($this->source, $path);
    }

    private function scan(): void
    {
        $at = $from = $tags = 0;
        $length = \strlen($this->source);
        while (++$tags < self::MOST_TAGS && false !== ($open = strpos($this->source, '<', $from))) {
            $mark = $this->source[$open + 1] ?? '';
            if ('!' === $mark || '?' === $mark) {
                $end = str_starts_with(substr($this->source, $open, 4), '<!--')
                    ? strpos($this->source, '-->', $open + 4)
                    : strpos($this->source, '>', $open);
                $this->words($at, $open);
                // One that never ends takes in the rest.
                $at = $from = false === $end ? $length : $end + ('-' === $this->source[$end] ? 3 : 1);
                continue;
            }
            if (1 !== preg_match(self::TAG, $this->source, $m, \PREG_OFFSET_CAPTURE, $open)) {
                if (false === strpos($this->source, '>', $open)) {
                    // No tag ends any more.
                    break;
                }
                $from = $open + 1;
                continue;
            }
            $this->words($at, $open);
            $at = $from = $open + \strlen($m[0][0]);
            $name = strtolower($m[2][0]);
            if ('/' === $m[1][0]) {
                $this->closes($name, $at);
                continue;
            }
            $this->opens($name, $m[3][0], $m[3][1]);
            if (\in_array($name, self::RAW, true)) {
                $end = stripos($this->source, '</'.$name, $at);
                $at = $from = false === $end ? $length : $end;
            }
        }
        $this->words($at, $length);
    }

    private function opens(string $name, string $attributes, int $offset): void
    {
        $values = $this->attributes($attributes, $offset);
        if ('base' === $name && isset($values['href'])) {
            $this->base ??= Url::tryParse($values['href'][0]);
        }
        if (\in_array($name, self::BLOCKS, true)) {
            $this->flush();
        } elseif ('br' === $name) {
            $this->text .= "\n";
        }
        if (isset($values['id'])) {
            $this->ids[] = $values['id'][0];
        } elseif ('a' === $name && isset($values['name'])) {
            $this->ids[] = $values['name'][0];
        }
        if ('a' !== $name || !isset($values['href'])) {
            return;
        }
        [$href, $at, $length, $quote] = $values['href'];
        $this->link = null;
        $this->innerAt = null;
        if (str_starts_with($href, '#') && \strlen($href) > 1) {
            [$this->innerAt, $this->innerTarget] = [\strlen($this->text), rawurldecode(substr($href, 1))];

            return;
        }
        $url = Url::tryParse($href, $this->base);
        if (null !== $url && $url->isWeb() && 1 === preg_match('~^\s*(?:https?:)?//~i', $href)) {
            $this->link = [$at, $length, \strlen($this->text), (string) $url, $quote];
        }
    }

    private function closes(string $name, int $at): void
    {
        if ('a' === $name && null !== $this->link) {
            [$from, $length, $begins, $url, $quote] = $this->link;
            $label = substr($this->text, $begins);
            $this->spots[] = new Spot(
                $url,
                $begins,
                \strlen($label),
                '' === trim($label) ? $url : $label,
                ['kind' => 'link', 'at' => $from, 'length' => $length, 'end' => $at, 'quote' => $quote],
            );
            $this->link = null;
        } elseif ('a' === $name && null !== $this->innerAt) {
            $label = trim(substr($this->text, $this->innerAt), " \t\n\r[]()^*†‡");
            // What leads back from a note is no mark.
            if (1 === preg_match('/^(?:\d{1,4}|[a-z*†‡]{1,3})$/iu', $label)) {
                $this->inner[$this->innerTarget] ??= $label;
                $this->marks[] = [$this->innerAt, $this->innerTarget];
                $this->text = substr($this->text, 0, $this->innerAt);
            }
            $this->innerAt = null;
        } elseif (\in_array($name, self::BLOCKS, true)) {
            $this->flush();
        }
    }

    private function words(int $from, int $to): void
    {
        if ($to <= $from) {
            return;
        }
        $raw = substr($this->source, $from, $to - $from);
        if (null === $this->link && null === $this->innerAt) {
            $begins = \strlen($this->text);
            $counted = 0;
            foreach (BareAddresses::in(mb_scrub($raw)) as [$written, $at]) {
                $url = CharacterReferences::inText($written);
                $begins += \strlen(CharacterReferences::inText(substr($raw, $counted, $at - $counted)));
                $counted = $at;
                $this->spots[] = new Spot(
                    $url, $begins, \strlen($url), $url, ['kind' => 'bare', 'at' => $from + $at, 'length' => \strlen($written)],
                );
            }
        }
        $this->text .= CharacterReferences::inText($raw);
    }

    private function flush(): void
    {
        $this->link = null;
        $this->innerAt = null;
        if ('' !== trim($this->text) || [] !== $this->spots) {
            // A block of words alone is part of no reference.
            if (([] !== $this->spots || [] !== $this->marks) && \count($this->done) < self::MOST_BLOCKS) {
                $this->done[] = [$this->text, $this->spots, $this->ids, $this->marks];
            }
            [$this->text, $this->spots, $this->ids, $this->marks] = ['', [], [], []];
        }
    }

    /**
     * @return array<string, array{string, int, int, string}> value, where it stands in the source, its length there, its quotation mark
     */
    private function attributes(string $attributes, int $offset): array
    {
        $found = [];
        $from = 0;
        while (\count($found) < self::MOST_ATTRIBUTES
            && 1 === preg_match(
                '~([^\s/>="\']+)\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s>"\']+))~', $attributes, $one, \PREG_OFFSET_CAPTURE, $from,
            )) {
            $from = $one[0][1] + \strlen($one[0][0]);
            [$quote, $value] = match (true) {
                isset($one[4]) => ['', $one[4]],
                isset($one[3]) && $one[3][1] >= 0 => ["'", $one[3]],
                default => ['"', $one[2] ?? ['', 0]],
            };
            $found[strtolower($one[1][0])] ??= [CharacterReferences::inValue($value[0]), $offset + $value[1], \strlen($value[0]), $quote];
        }

        return $found;
    }
}
