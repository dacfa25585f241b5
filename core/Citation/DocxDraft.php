<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/**
 * A text document of ECMA-376 (Office Open XML): body, footnotes and endnotes; links of both kinds (17.16.22, and fields,
 * 17.16.5.25), and addresses that are simply written.
 */
final class DocxDraft implements Repairable
{
    private const BODY = 'word/document.xml';
    private const NOTES = ['word/footnotes.xml' => 'footnote', 'word/endnotes.xml' => 'endnote'];
    private const LINK = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/hyperlink';

    private readonly OfficeFile $file;
    /** @var array<string, string> by kind and id: numbers in the order of the text */
    private array $numbers = [];
    /** @var array<string, int> notes so far, by kind */
    private array $counts = [];

    public function __construct(string $path)
    {
        $this->file = new OfficeFile($path);
    }

    public function stretches(): array
    {
        $parts = $this->file->parts([
            self::BODY, ...array_keys(self::NOTES), ...array_map(self::relationsOf(...), [self::BODY, ...array_keys(self::NOTES)]),
        ]);
        if (!isset($parts[self::BODY])) {
            throw new UnreadableDraft('The file has no text: it is not a document of this kind.');
        }
        $this->numbers = $this->counts = [];
        $stretches = (new DocxPart(self::BODY, $parts[self::BODY], $this->relations($parts, self::BODY), $this->numberOf(...)))
            ->stretches();
        foreach (self::NOTES as $name => $kind) {
            if (isset($parts[$name])) {
                array_push(
                    $stretches,
                    ...(new DocxPart($name, $parts[$name], $this->relations($parts, $name), $this->numberOf(...), $kind))->stretches(),
                );
            }
        }

        return $stretches;
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $byPart = [];
        foreach ($repairs as $repair) {
            $part = $repair->place['part'] ?? null;
            if (\is_string($part)) {
                $byPart[$part][] = $repair;
            }
        }
        $names = array_map(strval(...), array_keys($byPart));
        $parts = $this->file->parts([...$names, ...array_map(self::relationsOf(...), $names)]);
        $changed = [];
        foreach ($byPart as $name => $some) {
            $splices = new Splices();
            $relations = '';
            foreach ($some as $n => $repair) {
                $beside = XmlScanner::escaped(' '.$wording->beside($repair));
                if ('text' === $repair->kind()) {
                    $splices->add($repair->place('end'), 0, self::behind($parts[$name] ?? '', $repair, $wording));
                    continue;
                }
                $splices->add($repair->place('end'), 0, '<w:r><w:t xml:space="preserve">'.$beside.'</w:t></w:r>');
                if ('field' === $repair->kind()) {
                    $splices->add($repair->place('at'), $repair->place('length'), XmlScanner::escaped($repair->permanent));
                    continue;
                }
                $id = 'rIdArchived'.(1 + $n).'x'.substr(hash('sha256', $name), 0, 6);
                $splices->add($repair->place('at'), $repair->place('length'), $id);
                $relations .= '<Relationship Id="'.$id.'" Type="'.self::LINK.'" Target="'.XmlScanner::escaped($repair->permanent)
                    .'" TargetMode="External"/>';
            }
            $changed[$name] = $splices->on($parts[$name] ?? '');
            if ('' !== $relations) {
                $old = $parts[self::relationsOf($name)] ?? '';
                $end = strrpos($old, '</');
                if (false === $end) {
                    throw new UnreadableDraft('The list of links of the document cannot be read.');
                }
                $changed[self::relationsOf($name)] = substr($old, 0, $end).$relations.substr($old, $end);
            }
        }
        $this->file->with($changed, $path);
    }

    /**
     * What is set behind an address that is simply written: the run is ended, a field leads to the archive, and a run of the same
     * properties goes on with the rest (ISO/IEC 29500-1, 17.16.5.25).
     */
    private static function behind(string $xml, Repair $repair, Wording $wording): string
    {
        $before = substr($xml, 0, $repair->place('end'));
        $run = max((int) strrpos($before, '<w:r>'), (int) strrpos($before, '<w:r '));
        // What changes of them are tracked inside has no end that is easily found: then the new runs look like the paragraph.
        $properties = 1 === preg_match('~\G<w:r(?: [^>]*)?>\s*(<w:rPr>(?:(?!<w:rPrChange|</w:r>).)*?</w:rPr>)~s', $before, $m, 0, $run)
            ? $m[1]
            : '';
        $words = static fn (string $text): string => '<w:r>'.$properties.'<w:t xml:space="preserve">'.XmlScanner::escaped($text)
            .'</w:t></w:r>';
        $mark = static fn (string $type): string => '<w:r>'.$properties.'<w:fldChar w:fldCharType="'.$type.'"/></w:r>';

        return '</w:t></w:r>'.$words(' ['.$wording->archived.' '.$repair->day.': ').$mark('begin').'<w:r>'.$properties
            .'<w:instrText xml:space="preserve"> HYPERLINK "'.XmlScanner::escaped($repair->permanent).'" </w:instrText></w:r>'
            .$mark('separate').$words($repair->permanent).$mark('end').'<w:r>'.$properties.'<w:t xml:space="preserve">]';
    }

    /** The number of a note: the place of its first mark among those of its kind. */
    private function numberOf(string $kind, string $id, bool $marks): ?string
    {
        $key = $kind.' '.$id;
        if ($marks && !isset($this->numbers[$key])) {
            $number = (string) ($this->counts[$kind] = 1 + ($this->counts[$kind] ?? 0));
            $this->numbers[$key] = 'endnote' === $kind ? self::roman((int) $number) : $number;
        }

        return $this->numbers[$key] ?? null;
    }

    /**
     * @param array<string, string> $parts
     *
     * @return array<string, string> addresses of the web, by id
     */
    private function relations(array $parts, string $name): array
    {
        $relations = [];
        foreach (XmlScanner::read($parts[self::relationsOf($name)] ?? '', self::relationsOf($name)) as $piece) {
            $target = $piece->attribute('Target');
            $id = $piece->attribute('Id');
            if ('Relationship' === $piece->name && null !== $id && null !== $target && 'External' === $piece->attribute('TargetMode')) {
                $relations[$id] = $target;
            }
        }

        return $relations;
    }

    private static function relationsOf(string $name): string
    {
        return 'word/_rels/'.basename($name).'.rels';
    }

    /** Word numbers endnotes so. */
    private static function roman(int $number): string
    {
        $roman = '';
        foreach ([
            'm' => 1000, 'cm' => 900, 'd' => 500, 'cd' => 400, 'c' => 100, 'xc' => 90, 'l' => 50, 'xl' => 40, 'x' => 10, 'ix' => 9,
            'v' => 5, 'iv' => 4, 'i' => 1,
        ] as $sign => $value) {
            $roman .= str_repeat($sign, intdiv($number, $value));
            $number %= $value;
        }

        return $roman;
    }
}
