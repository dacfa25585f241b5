<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A text document of ISO/IEC 26300 (OpenDocument): paragraphs and notes, links (text:a), and addresses that are simply written. */
final class OdtDraft implements Repairable
{
    private const CONTENT = 'content.xml';

    private readonly OfficeFile $file;
    private string $xml = '';
    /** @var list<OdtLevel> */
    private array $levels = [];
    private Gathered $stretches;
    private bool $inCitation = false;
    private string $citation = '';

    public function __construct(string $path)
    {
        $this->file = new OfficeFile($path);
        $this->stretches = new Gathered();
    }

    public function stretches(): array
    {
        $this->xml = $this->file->parts([self::CONTENT])[self::CONTENT]
            ?? throw new UnreadableDraft('The file has no text: it is not a document of this kind.');
        $this->levels = [];
        $this->stretches = new Gathered();
        foreach (XmlScanner::read($this->xml, self::CONTENT) as $piece) {
            if ('' === $piece->name) {
                $this->words($piece);
            } elseif ($piece->closes) {
                $this->closes($piece);
            } else {
                $this->opens($piece);
            }
        }

        return $this->stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $xml = $this->file->parts([self::CONTENT])[self::CONTENT] ?? '';
        // A document without any link need not know the names that links are made of.
        $isLinking = str_contains($xml, 'xmlns:xlink=') && str_contains($xml, 'xmlns:text=');
        $splices = new Splices();
        foreach ($repairs as $repair) {
            if ('text' === $repair->kind()) {
                $to = XmlScanner::escaped($repair->permanent);
                $splices->add(
                    $repair->place('end'),
                    0,
                    XmlScanner::escaped(' ['.$wording->archived.' '.$repair->day.': ')
                        .($isLinking ? '<text:a xlink:type="simple" xlink:href="'.$to.'">'.$to.'</text:a>' : $to).']',
                );
            } else {
                $splices->add($repair->place('at'), $repair->place('length'), XmlScanner::escaped($repair->permanent));
                $splices->add($repair->place('end'), 0, XmlScanner::escaped(' '.$wording->beside($repair)));
            }
        }
        $this->file->with([self::CONTENT => $splices->on($xml)], $path);
    }

    private function words(XmlPiece $piece): void
    {
        if ($this->inCitation) {
            $this->citation .= $piece->text;
        } elseif ([] !== $this->levels) {
            $level = $this->levels[\count($this->levels) - 1];
            // White space is folded when such a document is shown (6.1.2).
            $level->add((string) preg_replace('/[ \t\r\n]+/', ' ', $piece->text), $piece->at, $piece->end);
        }
    }

    private function opens(XmlPiece $piece): void
    {
        $level = $this->levels[\count($this->levels) - 1] ?? null;
        switch ($piece->name) {
            case 'text:p':
            case 'text:h':
                if (!$piece->isEmpty) {
                    $this->levels[] = new OdtLevel(null !== $level && null !== $level->opened ? $level->opened : null);
                }
                break;
            case 'text:note-citation':
                [$this->inCitation, $this->citation] = [!$piece->isEmpty, ''];
                break;
            case 'text:note-body':
                if (null !== $level && !$piece->isEmpty) {
                    $level->opened = trim($this->citation);
                    $level->marks[] = [\strlen($level->text), trim($this->citation)];
                }
                break;
            case 'text:a':
                $place = $piece->attributePlace('xlink:href');
                if (null !== $place && null !== $level && !$piece->isEmpty) {
                    $level->link = [$place[0], $place[1], \strlen($level->text), XmlScanner::plain($place[2])];
                }
                break;
            case 'text:s':
            case 'text:tab':
            case 'text:line-break':
                $level?->add(' ', null, null);
                break;
        }
    }

    private function closes(XmlPiece $piece): void
    {
        $level = $this->levels[\count($this->levels) - 1] ?? null;
        if ('text:note-citation' === $piece->name) {
            $this->inCitation = false;
        } elseif ('text:note-body' === $piece->name && null !== $level) {
            $level->opened = null;
        } elseif ('text:a' === $piece->name && null !== $level) {
            $level->linked($piece->end);
        } elseif (('text:p' === $piece->name || 'text:h' === $piece->name) && null !== $level) {
            array_pop($this->levels);
            $stretch = $level->stretch($this->xml);
            if (null !== $stretch) {
                $this->stretches->add($stretch);
            }
        }
    }
}
