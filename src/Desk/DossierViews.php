<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Desk\Value\SavedView;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Ways to look at dossiers, saved under names: one's own, and those that a writer saved for all who see the dossier. */
final readonly class DossierViews
{
    public const LONGEST_NAME = 200;
    private const MOST = 100;

    public function __construct(private Connection $database, private DossierRepository $dossiers)
    {
    }

    /** @return list<SavedView> the first one first */
    public function of(Viewer $viewer, Dossier $dossier): array
    {
        return array_map(static function (array $values): SavedView {
            $row = new Row($values);
            $query = json_decode($row->text('view'), true);

            return new SavedView(
                $row->text('code'), $row->text('name'), $row->text('person'), 1 === $row->int('for_all'),
                DossierView::of(\is_array($query) ? $query : []),
            );
        }, $this->database->fetchAllAssociative(
            'SELECT code, name, person, for_all, view FROM dossier_view WHERE dossier_id = ? AND (for_all = 1 OR person = ?) ORDER BY'
                .' id LIMIT '
                .self::MOST,
            [$dossier->id(), (string) $viewer->name],
        ));
    }

    public function byCode(Viewer $viewer, Dossier $dossier, string $code): ?SavedView
    {
        foreach ($this->of($viewer, $dossier) as $one) {
            if ($one->code === $code) {
                return $one;
            }
        }

        return null;
    }

    /** @throws CannotChange */
    public function save(Viewer $viewer, Dossier $dossier, string $name, DossierView $view, bool $forAll): string
    {
        $name = mb_substr(trim($name), 0, self::LONGEST_NAME);
        if ('' === $name) {
            throw new CannotChange('desk.view_has_no_name');
        }
        if (\count($this->of($viewer, $dossier)) >= self::MOST) {
            throw new CannotChange('desk.too_many_views', ['most' => self::MOST]);
        }
        $code = Codes::random();
        $this->database->insert('dossier_view', [
            'code' => $code, 'dossier_id' => $dossier->id(), 'person' => (string) $viewer->name, 'name' => $name,
            'for_all' => (int) ($forAll && $this->dossiers->may($viewer, $dossier, Part::Writer)),
            'view' => json_encode((object) $view->query(), \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
        ]);

        return $code;
    }

    /** Whoever saved it may, and who leads the dossier. */
    public function mayForget(Viewer $viewer, Dossier $dossier, SavedView $view): bool
    {
        return $view->person === $viewer->name || $this->dossiers->may($viewer, $dossier, Part::Lead);
    }

    public function forget(Dossier $dossier, SavedView $view): void
    {
        $this->database->delete('dossier_view', ['dossier_id' => $dossier->id(), 'code' => $view->code]);
    }
}
