<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Symfony\Component\Filesystem\Filesystem;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\Repair;
use Ypomna\Core\Citation\Repairable;
use Ypomna\Core\Citation\UnreadableDraft;
use Ypomna\Core\Citation\Wording;

/** Gives documents back with references led to where the page can still be read, and lists what was altered. */
final readonly class DraftRepair
{
    public function __construct(private ReferenceLists $lists, private DraftStorage $drafts, private TranslatorInterface $translator)
    {
    }

    /**
     * Writes the repaired document.
     *
     * @throws UnreadableDraft
     */
    public function write(Viewer $viewer, ReferenceList $list, string $path, string $locale): void
    {
        $draft = $this->drafts->open($this->drafts->path($list->code), $list->format);
        if (!$draft instanceof Repairable) {
            throw new UnreadableDraft('Documents of this kind cannot be written here.');
        }
        $repairs = [];
        foreach ($this->altered($viewer, $list) as $row) {
            /** @var array<string, int|string|list<int>|null> $place */
            $place = json_decode($row->place, true);
            $day = $row->repairDay ?? throw new \LogicException('A reference that is led elsewhere lacks its day.');
            $repairs[] = new Repair($place, $row->url, $row->repairTo ?? '', self::day($day, $locale), $day->format('Y-m-d'));
        }
        (new Filesystem())->mkdir(\dirname($path));
        $draft->repair(
            $repairs,
            new Wording(
                $this->translator->trans('repair.archived', locale: $locale), $this->translator->trans('repair.original', locale: $locale),
            ),
            $path,
        );
        // What was written has to be a document that can be read again, with everything in it.
        $again = DraftReferences::of($this->drafts->open($path, $list->format));
        $to = array_count_values(array_map(static fn ($one): string => (string) $one->url, $again->all));
        foreach (array_count_values(array_map(
            static fn (ReferenceRow $row): string => $row->repairTo ?? '', $this->altered($viewer, $list),
        )) as $address => $times) {
            if (($to[$address] ?? 0) < $times && !$again->isCut) {
                throw new UnreadableDraft(\sprintf(
                    'The document could not be altered where it refers to what is now at %s: it stands there %d times, not %d. '
                    .'Nothing is given back.',
                    $address,
                    $to[$address] ?? 0,
                    $times,
                ));
            }
        }
    }

    /**
     * @return list<ReferenceRow>
     */
    public function altered(Viewer $viewer, ReferenceList $list): array
    {
        return $this->lists->rows($viewer, $list, 'repaired', 0, DraftReferences::MOST);
    }

    /**
     * The list of alterations as a table.
     *
     * @return \Generator<int, string>
     */
    public function table(Viewer $viewer, ReferenceList $list): \Generator
    {
        yield CsvLine::of(['number', 'note', 'original', 'leads to', 'as of', 'verdict', 'reason', 'last check', 'accessed', 'context']);
        foreach ($this->altered($viewer, $list) as $row) {
            yield CsvLine::of([
                (string) $row->position, $row->note ?? '', $row->url, $row->repairTo ?? '', $row->repairDay?->format('Y-m-d') ?? '',
                $row->live->word(), $row->live->reason->value ?? '',
                $row->live->checkedAt?->format('Y-m-d\TH:i:s\Z') ?? '', $row->accessed?->format('Y-m-d') ?? '', $row->context,
            ]);
        }
    }

    public static function day(\DateTimeImmutable $day, string $locale): string
    {
        $format = new \IntlDateFormatter('en' === $locale ? 'en_GB' : $locale, \IntlDateFormatter::LONG, \IntlDateFormatter::NONE, 'UTC');

        return (string) $format->format($day);
    }
}
