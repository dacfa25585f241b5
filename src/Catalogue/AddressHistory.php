<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Value\CaptureLine;
use Ypomna\App\Catalogue\Value\CaptureMark;
use Ypomna\App\Catalogue\Value\HistoryView;
use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\App\Catalogue\Value\Span;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** The history of an address: its captures as lines, as layers of its column, and as years and months. */
final readonly class AddressHistory
{
    public const PAGE = 50;
    /** More layers than this are not drawn one by one, but in so many slices of time. */
    private const MAX_LAYERS = 240;
    private const SLICES = 120;
    /** Captures that were granted to somebody and are named one by one; of more each is looked up. */
    private const MANY = 5_000;
    /** Fewer captures need no way through years and days. */
    private const FEW = 12;

    public function __construct(
        private Connection $database,
        private JoinedAddresses $joined,
        private HistorySummaries $summaries,
        private SeenAddresses $seen,
        private Gate $gate,
    ) {
    }

    /**
     * A page of captures, newest first.
     *
     * @param CaptureMark|null $before the last line of the page before
     *
     * @return list<CaptureLine>
     */
    public function lines(Viewer $viewer, Address $address, ?CaptureMark $before = null, HistoryView $view = new HistoryView()): array
    {
        $behind = null === $before ? '' : ' AND c.captured_at <= ? AND (c.captured_at < ? OR c.id < ?)';
        $at = null === $before ? '' : MomentType::text($before->at);
        [$within, $parameters] = $this->condition($viewer, $address, $view);
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.id, c.code, c.captured_at, c.status, c.title, c.mime, c.parts, c.bytes, c.payload_sha256, c.redirect_to, c.agent,'
                .' c.how, c.changed, c.url, c.dom_offset, c.verdict, f.origin, f.bytes AS file_bytes, LOWER(HEX(f.sha256)) AS file_digest'
            .' FROM capture c STRAIGHT_JOIN warc_file f ON f.id = c.warc_file_id WHERE c.address_id IN (?)'.$behind.$within
                .' ORDER BY c.captured_at DESC, c.id DESC LIMIT '.self::PAGE,
            [$this->joined->ids($viewer, $address), ...(null === $before ? [] : [$at, $at, $before->id]), ...$parameters],
            [ArrayParameterType::INTEGER],
        );

        return array_map(static fn (array $row): CaptureLine => CaptureLine::fromRow(new Row($row)), $rows);
    }

    /**
     * What the column is drawn from, oldest first.
     *
     * @return list<Layer>
     */
    public function layers(Viewer $viewer, Address $address, HistoryView $view = new HistoryView()): array
    {
        [$within, $parameters] = $this->condition($viewer, $address, $view);
        [$count, $first, $last] = $this->extent($viewer, $address, $view);
        if ($count > self::MAX_LAYERS) {
            return $this->slices($viewer, $address, $view, $first, $last);
        }
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.code, c.captured_at, c.status, c.changed, c.leads_on FROM capture c WHERE c.address_id IN (?)'.$within
                .' ORDER BY c.captured_at, c.id',
            [$this->joined->ids($viewer, $address), ...$parameters],
            [ArrayParameterType::INTEGER],
        );

        return array_map(static function (array $values): Layer {
            $row = new Row($values);

            return new Layer(
                $row->text('code'),
                $row->moment('captured_at'),
                $row->int('status'),
                $row->floatOrNull('changed'),
                1 === $row->int('leads_on'),
            );
        }, $rows);
    }

    /**
     * Years, months, days or hours with captures, whichever parts what is looked at; none where there is little.
     *
     * @return list<Span>
     */
    public function spans(Viewer $viewer, Address $address, HistoryView $view): array
    {
        [$within, $parameters] = $this->condition($viewer, $address, $view);
        $from = max($address->firstAt, $view->from ?? $address->firstAt);
        $to = min($address->lastAt, $view->to ?? $address->lastAt);
        $days = ($to->getTimestamp() - $from->getTimestamp()) / 86_400;
        // Numbers are told apart faster than dates that are written out.
        [$number, $begins, $shown, $step] = match (true) {
            $days > 400 => ['YEAR(c.captured_at)', '!Y-m-d', 'Y', '+1 year'],
            $days > 32 => ['EXTRACT(YEAR_MONTH FROM c.captured_at)', '!Ym-d', 'M Y', '+1 month'],
            $days > 1.2 => ['EXTRACT(YEAR_MONTH FROM c.captured_at) * 100 + DAY(c.captured_at)', '!Ymd', 'j M Y', '+1 day'],
            default => [
                'EXTRACT(DAY_HOUR FROM c.captured_at) + EXTRACT(YEAR_MONTH FROM c.captured_at) * 10000', '!YmdH', 'j M Y, H:00', '+1 hour',
            ],
        };
        if ($address->captures <= self::FEW || $days < 0.04) {
            return [];
        }
        $make = fn (): array => $this->database->fetchAllAssociative(
            "SELECT {$number} AS begins, COUNT(*) AS n, SUM(c.changed > 0) AS changes FROM capture c FORCE INDEX (capture_history)"
                ." WHERE c.address_id IN (?){$within} GROUP BY 1 ORDER BY 1 LIMIT 400",
            [$this->joined->ids($viewer, $address), ...$parameters],
            [ArrayParameterType::INTEGER],
        );
        $rows = $view->isWhole()
            ? $this->summaries->rows($this->joined->of($viewer, $address), 'spans '.$number.$this->seenBy($viewer, $address), $make)
            : $make();
        $spans = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $moment = \DateTimeImmutable::createFromFormat(
                $begins,
                $row->text('begins').(str_ends_with($begins, '-m-d') ? '-01-01' : (str_ends_with($begins, 'm-d') ? '-01' : '')),
                new \DateTimeZone('UTC'),
            );
            if (false !== $moment) {
                $spans[] = new Span(
                    $moment->format($shown), $moment, $moment->modify($step), $row->int('n'), $row->intOrNull('changes') ?? 0,
                );
            }
        }

        return $spans;
    }

    /**
     * How many captures are looked at, and from when to when.
     *
     * @return array{int, \DateTimeImmutable, \DateTimeImmutable}
     */
    private function extent(Viewer $viewer, Address $address, HistoryView $view): array
    {
        if ($view->isWhole()) {
            // The addresses' own rows know it.
            $group = $this->joined->of($viewer, $address);

            return [
                array_sum(array_map(static fn (Address $one): int => $one->captures, $group)),
                min(array_map(static fn (Address $one): \DateTimeImmutable => $one->firstAt, $group)),
                max(array_map(static fn (Address $one): \DateTimeImmutable => $one->lastAt, $group)),
            ];
        }
        [$within, $parameters] = $this->condition($viewer, $address, $view);
        $row = $this->database->fetchAssociative(
            'SELECT COUNT(*) AS n, MIN(c.captured_at) AS first_at, MAX(c.captured_at) AS last_at FROM capture c FORCE INDEX'
                .' (capture_history) WHERE c.address_id IN (?)'
                .$within,
            [$this->joined->ids($viewer, $address), ...$parameters],
            [ArrayParameterType::INTEGER],
        );
        $row = new Row(false === $row ? [] : $row);

        return [$row->int('n'), $row->momentOrNull('first_at') ?? $address->firstAt, $row->momentOrNull('last_at') ?? $address->lastAt];
    }

    /**
     * @return list<Layer>
     */
    private function slices(Viewer $viewer, Address $address, HistoryView $view, \DateTimeImmutable $first, \DateTimeImmutable $last): array
    {
        [$within, $parameters] = $this->condition($viewer, $address, $view);
        $seconds = max(1, (int) ceil(($last->getTimestamp() - $first->getTimestamp()) / self::SLICES));
        $make = fn (): array => $this->database->fetchAllAssociative(
            'SELECT s.*, c.code FROM (SELECT (TO_SECONDS(c.captured_at) - TO_SECONDS(?)) DIV ? AS slice, COUNT(*) AS n,'
                .' MIN(c.captured_at) AS first_at, MAX(c.captured_at) AS last_at, MAX(c.changed) AS changed, MIN(c.status) AS status,'
                    .' SUM(c.leads_on = 0 AND c.status NOT BETWEEN 200 AND 299) AS gone, MIN(c.leads_on) AS leads_on, MAX(c.id) AS last_id'
            .' FROM capture c FORCE INDEX (capture_history) WHERE c.address_id IN (?)'.$within
                .' GROUP BY 1) s JOIN capture c ON c.id = s.last_id ORDER BY s.slice',
            [MomentType::text($first), $seconds, $this->joined->ids($viewer, $address), ...$parameters],
            [2 => ArrayParameterType::INTEGER],
        );
        $rows = $view->isWhole()
            ? $this->summaries->rows($this->joined->of($viewer, $address), 'slices'.$this->seenBy($viewer, $address), $make)
            : $make();

        return array_map(static function (array $values): Layer {
            $row = new Row($values);

            return new Layer(
                $row->text('code'), $row->moment('first_at'), $row->int('status'), $row->floatOrNull('changed'),
                1 === $row->int('leads_on'), $row->int('n'), $row->moment('last_at'), $row->int('gone'),
            );
        }, $rows);
    }

    /** @return array{string, list<string>} a condition on captures `c`, beginning with AND, and its parameters */
    private function condition(Viewer $viewer, Address $address, HistoryView $view): array
    {
        [$within, $parameters] = $view->condition();

        return [$within.$this->seenBy($viewer, $address), $parameters];
    }

    /**
     * What somebody sees of the history of an address. It may be of tens of thousands of captures: what was granted to them is asked first,
     * so that no capture has to be looked up.
     *
     * @return string a condition on captures `c`, beginning with AND; '' if they see all
     */
    private function seenBy(Viewer $viewer, Address $address): string
    {
        $sight = $this->gate->sight($viewer);
        $group = $this->joined->of($viewer, $address);
        if ($sight->isWhole() || 0 === array_sum(array_map(static fn (Address $one): int => $one->limited, $group))) {
            return '';
        }
        $granted = [];
        foreach ($group as $one) {
            $own = $this->seen->granted($viewer, (int) $one->id, $one->limited);
            $granted = null === $own || null === $granted ? null : [...$granted, ...$own];
        }

        return match (true) {
            [] === $granted => ' AND c.limited = 0',
            null === $granted || \count($granted) > self::MANY => ' AND '.$sight->of('c.limited', 'c.code'),
            default => ' AND (c.limited = 0 OR c.id IN ('.implode(',', $granted).'))',
        };
    }
}
