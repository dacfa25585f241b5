<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Viewer;

/** What programs say of what they bring or have captured: how it is described, where it goes, who sees it. */
final readonly class CaptureWish
{
    private const LONGEST_TITLE = 1_000;
    private const LONGEST_WHY = 10_000;
    private const MOST_TAGS = 50;
    private const LONGEST_TAG = 200;

    private function __construct(
        public CaptureDescription $description,
        public ?string $dossier,
        public ?\DateTimeImmutable $due,
        public bool $confidential,
    ) {
    }

    /** What is wrong is told by the fields. */
    public static function of(Viewer $viewer, Fields $fields, ChosenDossier $dossiers, TranslatorInterface $translator): self
    {
        $description = new CaptureDescription(
            $fields->text('title', self::LONGEST_TITLE) ?? '', $fields->text('why', self::LONGEST_WHY) ?? '',
            $fields->texts('tags', self::MOST_TAGS, self::LONGEST_TAG) ?? [],
        );
        $dossier = $fields->text('dossier', 16);
        if (null !== $dossier && !$dossiers->mayLayInto($viewer, $dossier)) {
            $fields->wrong('dossier', $translator->trans('desk.no_such_dossier'));
        }

        return new self($description, $dossier, $fields->day('due'), $fields->bool('confidential') ?? false);
    }
}
