<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** One part of a text document, read into stretches: its paragraphs, or its notes. */
final class DocxPart
{
    private string $text = '';
    /** @var list<Spot> */
    private array $spots = [];
    /** @var list<array{int, string}> */
    private array $marks = [];
    private ?string $note = null;
    /** Texts of runs: where in the text, where in the source, its end there. */
    private readonly Runs $runs;
    /** @var array{int, int} a place of the text, and where it is in the source */
    private array $came = [0, 0];
    /**
     * @var array{int, int, int, string, string}|null what is linked: where the id or address stands, its length, where the text begins, the
     *     address, the kind
     */
    private ?array $link = null;
    private bool $inText = false;
    private bool $inInstruction = false;
    private readonly Gathered $stretches;
    /** @var array{string, int, int}|null the instruction of a field, and where its address stands */
    private ?array $field = null;

    /**
     * @param array<string, string> $relations
     * @param \Closure(string, string, bool): (string|null) $number kind, id, whether it is a mark
     * @param string|null $kind of the notes of this part; null for the body
     */
    public function __construct(
        private readonly string $name,
        private readonly string $xml,
        private readonly array $relations,
        private readonly \Closure $number,
        private readonly ?string $kind = null,
    ) {
        $this->runs = new Runs();
        $this->stretches = new Gathered();
    }

    /**
     * @return list<Stretch>
     *
     * @throws UnreadableDraft
     */
    public function stretches(): array
    {
        foreach (XmlScanner::read($this->xml, $this->name) as $piece) {
            if ('' === $piece->name) {
                $this->words($piece);
            } elseif ($piece->closes) {
                $this->closes($piece);
            } else {
                $this->opens($piece);
            }
        }
        $this->flush();

        return $this->stretches->all();
    }

    private function words(XmlPiece $piece): void
    {
        if ($this->inInstruction && null === $this->link
            && 1 === preg_match(
                '~HYPERLINK\s+(?:&quot;|")\s*([^"]*?)\s*(?:&quot;|")~',
                substr($this->xml, $piece->at, $piece->end - $piece->at),
                $m,
                \PREG_OFFSET_CAPTURE,
            )) {
            $this->field = [XmlScanner::plain($m[1][0]), $piece->at + $m[1][1], \strlen($m[1][0])];
        } elseif ($this->inText) {
            $this->runs->add(\strlen($this->text), $piece->at, $piece->end);
            $this->text .= $piece->text;
        }
    }

    private function opens(XmlPiece $piece): void
    {
        switch ($piece->name) {
            case 'w:p':
                if (null === $this->kind) {
                    $this->flush();
                } elseif ('' !== $this->text) {
                    $this->text .= "\n";
                }
                break;
            case 'w:'.$this->kind:
                $this->flush();
                $this->note = ($this->number)((string) $this->kind, $piece->attribute('w:id') ?? '', false);
                break;
            case 'w:t':
                $this->inText = !$piece->isEmpty;
                break;
            case 'w:instrText':
                $this->inInstruction = !$piece->isEmpty;
                break;
            case 'w:tab':
            case 'w:br':
                $this->text .= ' ';
                break;
            case 'w:noBreakHyphen':
                $this->text .= '-';
                break;
            case 'w:footnoteReference':
            case 'w:endnoteReference':
                $number = ($this->number)(substr($piece->name, 2, -9), $piece->attribute('w:id') ?? '', true);
                if (null !== $number) {
                    $this->marks[] = [\strlen($this->text), $number];
                }
                break;
            case 'w:hyperlink':
                $place = $piece->attributePlace('r:id');
                $target = null === $place ? null : $this->relations[XmlScanner::plain($place[2])] ?? null;
                if (null !== $place && null !== $target) {
                    $this->link = [$place[0], $place[1], \strlen($this->text), $target, 'link'];
                }
                break;
            case 'w:fldSimple':
                $place = $piece->attributePlace('w:instr');
                if (null !== $place
                    && 1 === preg_match('~HYPERLINK\s+(?:&quot;|")\s*(.*?)\s*(?:&quot;|")~', $place[2], $m, \PREG_OFFSET_CAPTURE)) {
                    $this->link = [$place[0] + $m[1][1], \strlen($m[1][0]), \strlen($this->text), XmlScanner::plain($m[1][0]), 'field'];
                }
                break;
            case 'w:fldChar':
                $this->fieldChar($piece);
                break;
        }
    }

    private function fieldChar(XmlPiece $piece): void
    {
        $type = $piece->attribute('w:fldCharType');
        if ('separate' === $type && null !== $this->field) {
            [$address, $at, $length] = $this->field;
            $this->link = [$at, $length, \strlen($this->text), $address, 'field'];
            $this->field = null;
        } elseif ('end' === $type && null !== $this->link && 'field' === $this->link[4]) {
            // Words may be set behind the run that the field ends in.
            $end = strpos($this->xml, '</w:r>', $piece->end);
            $this->linked(false === $end ? $piece->end : $end + 6);
        }
    }

    private function closes(XmlPiece $piece): void
    {
        match ($piece->name) {
            'w:t' => $this->inText = false,
            'w:instrText' => $this->inInstruction = false,
            'w:hyperlink', 'w:fldSimple' => $this->linked($piece->end),
            'w:p' => null === $this->kind ? $this->flush() : null,
            default => null,
        };
    }

    private function linked(int $end): void
    {
        if (null === $this->link) {
            return;
        }
        [$at, $length, $begins, $address, $kind] = $this->link;
        $label = substr($this->text, $begins);
        $this->spots[] = new Spot(
            $address,
            $begins,
            \strlen($label),
            '' === trim($label) ? $address : $label,
            ['kind' => $kind, 'part' => $this->name, 'at' => $at, 'length' => $length, 'end' => $end],
        );
        $this->link = null;
    }

    private function flush(): void
    {
        $this->link = null;
        $this->field = null;
        foreach (Spot::free(BareAddresses::in($this->text), $this->spots) as [$written, $at]) {
            $source = $this->source($at + \strlen($written));
            if (null !== $source) {
                $this->spots[] = new Spot(
                    $written, $at, \strlen($written), $written, ['kind' => 'text', 'part' => $this->name, 'end' => $source],
                );
            }
        }
        usort($this->spots, static fn (Spot $a, Spot $b): int => $a->at <=> $b->at);
        if ('' !== trim($this->text)) {
            $this->stretches->add(new Stretch($this->text, $this->spots, $this->note, $this->marks));
        }
        [$this->text, $this->spots, $this->marks, $this->note] = ['', [], [], null];
        $this->runs->forget();
        $this->came = [0, 0];
    }

    /** Where in the source the text up to there ends. */
    private function source(int $end): ?int
    {
        $run = $this->runs->around($end);
        if (null === $run) {
            return null;
        }
        [$begins, $at, $until] = $run;
        $left = $end - $begins;
        // Addresses come one behind the other: where the last one ended is nearer than where the run begins.
        if ($this->came[0] >= $begins && $this->came[0] <= $end && $this->came[1] >= $at) {
            [$left, $at] = [$end - $this->came[0], $this->came[1]];
        }
        // References are longer in the source than in the text.
        while (true) {
            $plain = strcspn($this->xml, '&', $at, min($left, $until - $at));
            $left -= $plain;
            $at += $plain;
            if ($left <= 0) {
                $this->came = [$end, $at];

                return $at;
            }
            if ($at >= $until) {
                return null;
            }
            $reference = strcspn($this->xml, ';', $at, $until - $at) + 1;
            $left -= \strlen(XmlScanner::plain(substr($this->xml, $at, $reference)));
            $at += $reference;
            if ($left <= 0) {
                $this->came = [$end + $left, $at];

                return $at;
            }
        }
    }
}
