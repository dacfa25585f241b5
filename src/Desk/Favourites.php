<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Value\Favourite;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/**
 * What a person wants at hand: addresses, captures, dossiers; some of it pinned on top. It is theirs alone, and says nothing to anybody
 * else. What they may no longer see is not there, and there again if they may.
 */
final readonly class Favourites
{
    /** So many a person can have. */
    public const MOST = 1_000;

    public function __construct(
        private Connection $database,
        private AddressRepository $addresses,
        private CaptureRepository $captures,
        private CaptureLists $lists,
        private DossierRepository $dossiers,
        private ClockInterface $clock,
    ) {
    }

    /** Whether somebody sees a thing that could be a favourite. */
    public function isThere(Viewer $viewer, FavouriteKind $kind, string $code): bool
    {
        return null !== match ($kind) {
            FavouriteKind::Address => $this->addresses->byCode($viewer, $code),
            FavouriteKind::Capture => $this->captures->byCode($viewer, $code),
            FavouriteKind::Dossier => $this->dossiers->byCode($viewer, $code),
        };
    }

    /**
     * @param bool|null $pinned null: as it is, or not, if it is new
     *
     * @throws CannotChange if there are too many
     */
    public function add(Viewer $viewer, FavouriteKind $kind, string $code, ?bool $pinned = null): void
    {
        if ($this->isFull($viewer) && null === $this->pinned($viewer, $kind, $code)) {
            throw new CannotChange('desk.too_many_favourites', ['n' => self::MOST]);
        }
        $this->database->executeStatement(
            'INSERT INTO favourite (person, kind, code, pinned, marked_at) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE pinned = '
                .(null === $pinned ? 'pinned' : 'VALUES(pinned)'),
            [self::name($viewer), $kind->value, $code, (int) (true === $pinned), MomentType::text($this->clock->now())],
        );
    }

    public function remove(Viewer $viewer, FavouriteKind $kind, string $code): void
    {
        $this->database->delete('favourite', ['person' => self::name($viewer), 'kind' => $kind->value, 'code' => $code]);
    }

    /** Whether somebody has as many as they can have. */
    public function isFull(Viewer $viewer): bool
    {
        $have = $this->database->fetchOne('SELECT COUNT(*) FROM favourite WHERE person = ?', [self::name($viewer)]);

        return is_numeric($have) && (int) $have >= self::MOST;
    }

    /** Whether a thing is pinned; null if it is no favourite. */
    public function pinned(Viewer $viewer, FavouriteKind $kind, string $code): ?bool
    {
        $pinned = null === $viewer->name ? false : $this->database->fetchOne(
            'SELECT pinned FROM favourite WHERE person = ? AND kind = ? AND code = ?', [$viewer->name, $kind->value, $code],
        );

        return is_numeric($pinned) ? 1 === (int) $pinned : null;
    }

    /**
     * Those of some dossiers that are pinned.
     *
     * @param list<string> $codes
     *
     * @return list<string>
     */
    public function pinnedDossiers(Viewer $viewer, array $codes): array
    {
        return null === $viewer->name || [] === $codes ? [] : array_values(array_filter($this->database->fetchFirstColumn(
            "SELECT code FROM favourite WHERE person = ? AND kind = 'dossier' AND code IN (?) AND pinned = 1", [$viewer->name, $codes],
            [1 => ArrayParameterType::STRING],
        ), \is_string(...)));
    }

    /** One of them as it is now; null if it is none, or not seen. */
    public function one(Viewer $viewer, FavouriteKind $kind, string $code): ?Favourite
    {
        $pinned = $this->pinned($viewer, $kind, $code);

        return null === $pinned ? null : $this->seen(
            $viewer, [new Row(['kind' => $kind->value, 'code' => $code, 'pinned' => (int) $pinned])],
        )[0] ?? null;
    }

    /** @return list<Favourite> pinned ones first, and the one that was marked last before the others */
    public function of(Viewer $viewer, int $most = self::MOST): array
    {
        if (null === $viewer->name) {
            return [];
        }
        $rows = array_map(static fn (array $row): Row => new Row($row), $this->database->fetchAllAssociative(
            'SELECT kind, code, pinned FROM favourite WHERE person = ? ORDER BY pinned DESC, marked_at DESC, kind, code', [$viewer->name],
        ));
        $found = [];
        foreach (array_chunk($rows, 100) as $some) {
            array_push($found, ...$this->seen($viewer, $some));
            if (\count($found) >= $most) {
                break;
            }
        }

        return \array_slice($found, 0, $most);
    }

    /**
     * @param list<Row> $rows
     *
     * @return list<Favourite>
     */
    private function seen(Viewer $viewer, array $rows): array
    {
        $codes = ['address' => [], 'capture' => [], 'dossier' => []];
        foreach ($rows as $row) {
            $codes[FavouriteKind::from($row->text('kind'))->value][] = $row->text('code');
        }
        $seen = [];
        foreach ($this->addresses->lines($viewer, $codes['address']) as $one) {
            $seen['address '.$one->code] = [$one->title, $one->url, $one->lastAt, $one->hasPicture ? $one->capture : null];
        }
        foreach ($this->lists->facts($viewer, $codes['capture']) as $code => $one) {
            $seen['capture '.$code] = [$one->title, $one->url, $one->capturedAt, $one->hasPicture ? $code : null];
        }
        foreach ($this->dossiers->byCodes($viewer, $codes['dossier']) as $one) {
            $seen['dossier '.$one->code] = [$one->name, null, null, null];
        }
        $found = [];
        foreach ($rows as $row) {
            $facts = $seen[$row->text('kind').' '.$row->text('code')] ?? null;
            if (null !== $facts) {
                $found[] = new Favourite(FavouriteKind::from($row->text('kind')), $row->text('code'), 1 === $row->int('pinned'), ...$facts);
            }
        }

        return $found;
    }

    private static function name(Viewer $viewer): string
    {
        return $viewer->name ?? throw new \LogicException('Only a person has favourites.');
    }
}
