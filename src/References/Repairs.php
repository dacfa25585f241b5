<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftReferences;

/** Which references of a document are to lead elsewhere: to a capture of ours, or to one of another archive. */
final readonly class Repairs
{
    public function __construct(private ReferenceLists $lists, private UrlGeneratorInterface $urls)
    {
    }

    /**
     * @return list<ReferenceRow> those that can be led elsewhere
     */
    public function possible(Viewer $viewer, ReferenceList $list): array
    {
        return array_values(array_filter(
            $this->lists->rows($viewer, $list, '', 0, DraftReferences::MOST),
            static fn (ReferenceRow $row): bool => null !== $row->refuge() && 'alive' !== $row->live->word(),
        ));
    }

    /**
     * @param \Closure(ReferenceRow): bool $wanted which of those that can be are led elsewhere; all others are as they were
     *
     * @return int how many
     */
    public function settle(Viewer $viewer, ReferenceList $list, \Closure $wanted): int
    {
        $choices = [];
        foreach ($this->possible($viewer, $list) as $row) {
            $refuge = $row->refuge();
            if (null !== $refuge && $wanted($row)) {
                $choices[$row->id] = [null === $row->capture ? $refuge[0] : $this->permanent($row->capture), $refuge[1]->format('Y-m-d')];
            }
        }
        if ([] !== $choices) {
            $this->lists->chooseRepairs($list, $choices);
        }

        return \count($choices);
    }

    private function permanent(string $code): string
    {
        return $this->urls->generate('read', ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }
}
