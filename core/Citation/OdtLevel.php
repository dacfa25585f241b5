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
    private readonly Runs $runs;

    /** @param string|null $note the note that it stands in */
    public function __construct(private readonly ?string $note)
    {
        $this->runs = new Runs();
    }

    public function add(string $text, ?int $at, ?int $end): void
    {
        if (null !== $at && null !== $end) {
            $this->runs->add(\strlen($this->text), $at, $end);
        }
        $this->text .= $text;
    }

    public function linked(int $end): void
    {
        if (null !== $this->link) {
            [$at, $length, $begins, $address] = $this->link;
            $label = substr($this->text, $begins);
            $this->spots[] = new Spot(
                $address,
                $begins,
                \strlen($label),
                '' === trim($label) ? $address : $label,
                ['kind' => 'link', 'at' => $at, 'length' => $length, 'end' => $end],
            );
            $this->link = null;
        }
    }

    public function stretch(string $xml): ?Stretch
    {
        foreach (Spot::free(BareAddresses::in($this->text), $this->spots) as [$written, $at]) {
            $source = $this->source($xml, $written, $at + \strlen($written));
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
        $run = $this->runs->around($end);
        if (null === $run) {
            return null;
        }
        [$begins, $at, $to] = $run;
        $tail = XmlScanner::escaped(substr($written, -min(\strlen($written), $end - $begins)));
        // A run can hold thousands of addresses: what is sought stands no nearer than it does in the text.
        $found = strpos($xml, $tail, min($to, $at + max(0, $end - $begins - \strlen($written))));

        return false === $found || $found + \strlen($tail) > $to ? null : $found + \strlen($tail);
    }
}
