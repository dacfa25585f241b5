<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Value\CaptureLine;
use Ypomna\App\Catalogue\Value\CaptureMark;
use Ypomna\App\Catalogue\Value\HistoryView;
use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\App\Catalogue\Value\Span;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Address\Variants;

/** Reads the history of an address, and what lies near it. */
final readonly class AddressHistory
{
    public const PAGE = 50;
    /** More layers than this are not drawn one by one, but in so many slices of time. */
    private const MAX_LAYERS = 240;
    private const SLICES = 120;
    /** More captures are not counted one by one for the totals. */
    private const MANY = 200_000;
    /** Fewer captures need no way through years and days. */
    private const FEW = 12;

    public function __construct(private Connection $database, private JoinedAddresses $joined, private HistorySummaries $summaries)
    {
    }

    /**
     * A page of captures, newest first.
     *
     * @param CaptureMark|null $before the last line of the page before
     *
     * @return list<CaptureLine>
     */
    public function lines(Address $address, ?CaptureMark $before = null, HistoryView $view = new HistoryView()): array
    {
        $behind = null === $before ? '' : ' AND c.captured_at <= ? AND (c.captured_at < ? OR c.id < ?)';
        $at = null === $before ? '' : MomentType::text($before->at);
        [$within, $parameters] = $view->condition();
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.id, c.code, c.captured_at, c.status, c.title, c.mime, c.parts, c.bytes, c.payload_sha256, c.redirect_to, c.agent, c.how, c.changed, c.url, c.dom_offset, c.verdict, f.origin, f.bytes AS file_bytes, LOWER(HEX(f.sha256)) AS file_digest'
            .' FROM capture c STRAIGHT_JOIN warc_file f ON f.id = c.warc_file_id WHERE c.address_id IN (?)'.$behind.$within.' ORDER BY c.captured_at DESC, c.id DESC LIMIT '.self::PAGE,
            [$this->joined->ids($address), ...(null === $before ? [] : [$at, $at, $before->id]), ...$parameters],
            [ArrayParameterType::INTEGER],
        );

        return array_map(static fn (array $row): CaptureLine => CaptureLine::fromRow(new Row($row)), $rows);
    }

    /**
     * What the column is drawn from, oldest first.
     *
     * @return list<Layer>
     */
    public function layers(Address $address, HistoryView $view = new HistoryView()): array
    {
        [$within, $parameters] = $view->condition();
        [$count, $first, $last] = $this->extent($address, $view);
        if ($count > self::MAX_LAYERS) {
            return $this->slices($address, $view, $first, $last);
        }
        $rows = $this->database->fetchAllAssociative('SELECT c.code, c.captured_at, c.status, c.changed, c.leads_on FROM capture c WHERE c.address_id IN (?)'.$within.' ORDER BY c.captured_at, c.id', [$this->joined->ids($address), ...$parameters], [ArrayParameterType::INTEGER]);

        return array_map(static function (array $values): Layer {
            $row = new Row($values);

            return new Layer($row->text('code'), $row->moment('captured_at'), $row->int('status'), $row->floatOrNull('changed'), 1 === $row->int('leads_on'));
        }, $rows);
    }

    /**
     * Years, months, days or hours with captures, whichever parts what is looked at; none where there is little.
     *
     * @return list<Span>
     */
    public function spans(Address $address, HistoryView $view): array
    {
        [$within, $parameters] = $view->condition();
        $from = max($address->firstAt, $view->from ?? $address->firstAt);
        $to = min($address->lastAt, $view->to ?? $address->lastAt);
        $days = ($to->getTimestamp() - $from->getTimestamp()) / 86_400;
        // Numbers are told apart faster than dates that are written out.
        [$number, $begins, $shown, $step] = match (true) {
            $days > 400 => ['YEAR(c.captured_at)', '!Y-m-d', 'Y', '+1 year'], $days > 32 => ['EXTRACT(YEAR_MONTH FROM c.captured_at)', '!Ym-d', 'M Y', '+1 month'],
            $days > 1.2 => ['EXTRACT(YEAR_MONTH FROM c.captured_at) * 100 + DAY(c.captured_at)', '!Ymd', 'j M Y', '+1 day'], default => ['EXTRACT(DAY_HOUR FROM c.captured_at) + EXTRACT(YEAR_MONTH FROM c.captured_at) * 10000', '!YmdH', 'j M Y, H:00', '+1 hour'],
        };
        if ($address->captures <= self::FEW || $days < 0.04) {
            return [];
        }
        $make = fn (): array => $this->database->fetchAllAssociative("SELECT {$number} AS begins, COUNT(*) AS n, SUM(c.changed > 0) AS changes FROM capture c FORCE INDEX (capture_history) WHERE c.address_id IN (?){$within} GROUP BY 1 ORDER BY 1 LIMIT 400", [$this->joined->ids($address), ...$parameters], [ArrayParameterType::INTEGER]);
        $rows = $view->isWhole() ? $this->summaries->rows($this->joined->of($address), 'spans '.$number, $make) : $make();
        $spans = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $moment = \DateTimeImmutable::createFromFormat($begins, $row->text('begins').(str_ends_with($begins, '-m-d') ? '-01-01' : (str_ends_with($begins, 'm-d') ? '-01' : '')), new \DateTimeZone('UTC'));
            if (false !== $moment) {
                $spans[] = new Span($moment->format($shown), $moment, $moment->modify($step), $row->int('n'), $row->intOrNull('changes') ?? 0);
            }
        }

        return $spans;
    }

    /**
     * How many captures are looked at, and from when to when.
     *
     * @return array{int, \DateTimeImmutable, \DateTimeImmutable}
     */
    private function extent(Address $address, HistoryView $view): array
    {
        if ($view->isWhole()) {
            // The addresses' own rows know it.
            $group = $this->joined->of($address);

            return [array_sum(array_map(static fn (Address $one): int => $one->captures, $group)), min(array_map(static fn (Address $one): \DateTimeImmutable => $one->firstAt, $group)), max(array_map(static fn (Address $one): \DateTimeImmutable => $one->lastAt, $group))];
        }
        [$within, $parameters] = $view->condition();
        $row = $this->database->fetchAssociative('SELECT COUNT(*) AS n, MIN(c.captured_at) AS first_at, MAX(c.captured_at) AS last_at FROM capture c FORCE INDEX (capture_history) WHERE c.address_id IN (?)'.$within, [$this->joined->ids($address), ...$parameters], [ArrayParameterType::INTEGER]);
        $row = new Row(false === $row ? [] : $row);

        return [$row->int('n'), $row->momentOrNull('first_at') ?? $address->firstAt, $row->momentOrNull('last_at') ?? $address->lastAt];
    }

    /**
     * @return list<Layer>
     */
    private function slices(Address $address, HistoryView $view, \DateTimeImmutable $first, \DateTimeImmutable $last): array
    {
        [$within, $parameters] = $view->condition();
        $seconds = max(1, (int) ceil(($last->getTimestamp() - $first->getTimestamp()) / self::SLICES));
        $make = fn (): array => $this->database->fetchAllAssociative(
            'SELECT s.*, c.code FROM (SELECT (TO_SECONDS(c.captured_at) - TO_SECONDS(?)) DIV ? AS slice, COUNT(*) AS n, MIN(c.captured_at) AS first_at, MAX(c.captured_at) AS last_at, MAX(c.changed) AS changed, MIN(c.status) AS status, SUM(c.leads_on = 0 AND c.status NOT BETWEEN 200 AND 299) AS gone, MIN(c.leads_on) AS leads_on, MAX(c.id) AS last_id'
            .' FROM capture c FORCE INDEX (capture_history) WHERE c.address_id IN (?)'.$within.' GROUP BY 1) s JOIN capture c ON c.id = s.last_id ORDER BY s.slice',
            [MomentType::text($first), $seconds, $this->joined->ids($address), ...$parameters],
            [2 => ArrayParameterType::INTEGER],
        );
        $rows = $view->isWhole() ? $this->summaries->rows($this->joined->of($address), 'slices', $make) : $make();

        return array_map(static function (array $values): Layer {
            $row = new Row($values);

            return new Layer($row->text('code'), $row->moment('first_at'), $row->int('status'), $row->floatOrNull('changed'), 1 === $row->int('leads_on'), $row->int('n'), $row->moment('last_at'), $row->int('gone'));
        }, $rows);
    }

    /**
     * Addresses whose keys lie in a range, in the order of their keys.
     *
     * @param array{string, string} $range from the first to before the second
     * @param string                $after code of the address that was shown last; '' at the beginning
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    public function under(array $range, string $after): array
    {
        $last = '' === $after ? false : $this->database->fetchOne('SELECT url_key FROM address WHERE code = ?', [$after]);

        return $this->rows('SELECT code, url, captures, last_at FROM address WHERE url_key >= ? AND url_key < ? AND url_key > ? ORDER BY url_key LIMIT '.self::PAGE, [$range[0], $range[1], \is_string($last) ? $last : '']);
    }

    /**
     * The last attempt to keep an address, if it failed: when, and why.
     *
     * @return array{code: string, at: \DateTimeImmutable, reason: string}|null
     */
    public function failure(Url $url): ?array
    {
        $row = $this->database->fetchAssociative('SELECT code, requested_at, reason, stage FROM capture_job WHERE key_hash = ? ORDER BY id DESC LIMIT 1', [hex2bin(AddressKeys::keyHash((string) $url))]);
        $row = false === $row ? null : new Row($row);

        return null === $row || null === $row->textOrNull('reason') ? null : ['code' => $row->text('code'), 'at' => $row->moment('requested_at'), 'reason' => $row->text('reason')];
    }

    /**
     * What is held under other addresses that often lead to the same page, the likeliest first.
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    public function variants(Url $url): array
    {
        $keys = array_values(array_unique(array_map(static fn (Url $variant): string => AddressKeys::ofParsed($variant, (string) $variant), Variants::of($url))));
        if ([] === $keys) {
            return [];
        }

        return $this->rows('SELECT code, url, captures, last_at FROM address WHERE url_key IN (?) ORDER BY FIELD(url_key, ?) LIMIT 12', [$keys, $keys], [ArrayParameterType::BINARY, ArrayParameterType::BINARY]);
    }

    /**
     * Addresses that were kept and lie near one that was not: in its folder, else on its host or below.
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    public function near(Url $url): array
    {
        $host = rtrim(Key::hostPrefix($url), ' ');
        foreach ([[Key::folderPrefix($url, AddressKeys::rules()), "\xFF"], [$host.' ', "\xFF"], [$host, "!\xFF"]] as [$from, $to]) {
            $found = $this->range(AddressKeys::stored($from), AddressKeys::stored($from).$to);
            if ([] !== $found) {
                return $found;
            }
        }
        $path = AddressKeys::canonical($url);
        $last = basename((string) parse_url($path, \PHP_URL_PATH));

        return \strlen($last) < 4 ? [] : $this->withName($last);
    }

    /**
     * The addresses kept most lately.
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    public function recent(int $limit): array
    {
        return $this->rows('SELECT code, url, captures, last_at FROM address ORDER BY last_at DESC, id DESC LIMIT '.$limit, []);
    }

    /**
     * @return array{addresses: int, captures: int, files: int, bytes: int}
     */
    public function totals(): array
    {
        $last = $this->database->fetchOne('SELECT MAX(id) FROM capture');
        $last = is_numeric($last) ? (int) $last : 0;
        $count = fn (): array => $this->database->fetchAllAssociative('SELECT (SELECT COUNT(*) FROM address) AS addresses, (SELECT COUNT(*) FROM capture) AS captures, COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes FROM warc_file');
        // Counting millions of rows takes long: of many they are counted anew when some hundredths were added.
        $totals = ($last <= self::MANY ? $count() : $this->summaries->remember('totals', \sprintf('%.1e', $last), $count))[0] ?? false;
        $row = new Row(false === $totals ? [] : $totals);

        return ['addresses' => $row->int('addresses'), 'captures' => $row->int('captures'), 'files' => $row->int('files'), 'bytes' => $row->int('bytes')];
    }

    /**
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    private function range(string $from, string $to): array
    {
        return $this->rows('SELECT code, url, captures, last_at FROM address WHERE url_key >= ? AND url_key < ? ORDER BY url_key LIMIT 12', [$from, $to]);
    }

    /**
     * The same last piece of the path on other hosts; looked for among the addresses kept most lately only.
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    private function withName(string $name): array
    {
        return $this->rows(
            'SELECT code, url, captures, last_at FROM (SELECT code, url, captures, last_at FROM address ORDER BY last_at DESC, id DESC LIMIT 5000) a WHERE url LIKE ? ORDER BY last_at DESC LIMIT 12',
            ['%/'.addcslashes($name, '%_\\').'%'],
        );
    }

    /**
     * @param list<mixed>              $parameters
     * @param list<ArrayParameterType> $types
     *
     * @return list<array{code: string, url: string, captures: int, lastAt: \DateTimeImmutable}>
     */
    private function rows(string $sql, array $parameters, array $types = []): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return ['code' => $row->text('code'), 'url' => $row->text('url'), 'captures' => $row->int('captures'), 'lastAt' => $row->moment('last_at')];
        }, $this->database->fetchAllAssociative($sql, $parameters, $types));
    }
}
