<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Split;

/** A text without markup. Notes are lines that begin with their number. */
final readonly class PlainDraft implements Repairable
{
    public function __construct(private string $text)
    {
    }

    public function stretches(): array
    {
        $stretches = new Gathered();
        $at = 0;
        $text = mb_scrub($this->text);
        foreach (Split::each('/\r?\n(?:[ \t]*\r?\n)+|\r?\n(?=[ \t]*[\[(]?\d{1,4}[\])]?[.:)]?[ \t]+\S)/', $text, $at) as $piece) {
            if ('' !== trim($piece)) {
                $note = 1 === preg_match('/^\s*[\[(]?(\d{1,4})[\])]?[.:)]?[ \t]+\S/', $piece, $m) ? $m[1] : null;
                $marks = [];
                if (null === $note && preg_match_all('/(?<=[.,;:!?”"»)\p{L}])\[(\d{1,4})\]/u', $piece, $m, \PREG_OFFSET_CAPTURE) > 0) {
                    foreach ($m[1] as $k => [$number, $where]) {
                        $marks[] = [$m[0][$k][1], $number];
                    }
                }
                $spots = array_map(
                    static fn (array $found): Spot => new Spot(
                        $found[0],
                        $found[1],
                        \strlen($found[0]),
                        $found[0],
                        ['kind' => 'bare', 'at' => $at + $found[1], 'length' => \strlen($found[0])],
                    ),
                    BareAddresses::in($piece),
                );
                $stretches->add(new Stretch($piece, $spots, [] === $spots ? null : $note, $marks));
            }
            if ($stretches->isFull()) {
                break;
            }
        }

        return $stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        foreach ($repairs as $repair) {
            $splices->add($repair->place('at'), $repair->place('length'), $repair->permanent.' '.$wording->beside($repair));
        }
        $splices->write($this->text, $path);
    }
}
