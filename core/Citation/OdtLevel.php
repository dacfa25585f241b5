<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A paragraph that is being read; notes stand within paragraphs, and have paragraphs of their own. */
final class OdtLevel
{
    public string $text = '';
    /** @var list<array{int, string}> */
    public array $marks = [];
    /** The note whose body is open in this paragraph. */
    public ?string $opened = null;
    /** @var array{int, int, int, string}|null where the address stands, its length, where the text begins, the address */
    public ?array $link = null;
    /** @var list<Spot> */
    private array $spots = [];
    /** @var list<array{int, int, int, int}> texts: where in the text and until where, where in the source and until where */
    private array $runs = [];

    /** @param string|null $note the note that it stands in */
    public function __construct(private readonly ?string $note)
    {
    }

    public function add(string $text, ?int $at, ?int $end): void
    {
        if (null !== $at && null !== $end) {
            $this->runs[] = [\strlen($this->text), \strlen($this->text) + \strlen($text), $at, $end];
        }
        $this->text .= $text;
    }

    public function linked(int $end): void
    {
        if (null !== $this->link) {
            [$at, $length, $begins, $address] = $this->link;
            $label = substr($this->text, $begins);
            $this->spots[] = new Spot($address, $begins, \strlen($label), '' === trim($label) ? $address : $label, ['kind' => 'link', 'at' => $at, 'length' => $length, 'end' => $end]);
            $this->link = null;
        }
    }

    public function stretch(string $xml): ?Stretch
    {
        foreach (BareAddresses::in($this->text) as [$written, $at]) {
            $end = $at + \strlen($written);
            $isLinked = array_filter($this->spots, static fn (Spot $spot): bool => $spot->at < $end && $spot->at + $spot->length > $at);
            $source = [] === $isLinked ? $this->source($xml, $written, $end) : null;
            if (null !== $source) {
                $this->spots[] = new Spot($written, $at, \strlen($written), $written, ['kind' => 'text', 'end' => $source]);
            }
        }
        $spots = $this->spots;
        usort($spots, static fn (Spot $a, Spot $b): int => $a->at <=> $b->at);

        return '' === trim($this->text) ? null : new Stretch($this->text, $spots, $this->note, $this->marks);
    }

    /** Where in the source an address ends: its last letters are looked for in the text that it ends in. */
    private function source(string $xml, string $written, int $end): ?int
    {
        foreach ($this->runs as [$begins, $until, $at, $to]) {
            if ($begins < $end && $end <= $until) {
                $tail = XmlScanner::escaped(substr($written, -min(\strlen($written), $end - $begins)));
                $found = strpos(substr($xml, $at, $to - $at), $tail);

                return false === $found ? null : $at + $found + \strlen($tail);
            }
        }

        return null;
    }
}
