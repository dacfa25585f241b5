<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Type\MomentType;
use Ypomna\App\Catalogue\Value\CaptureLine;
use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Address\Variants;

/** Reads the history of an address, and what lies near it. */
final readonly class AddressHistory
{
    public const PAGE = 50;
    /** More layers than this are not drawn one by one. */
    private const MAX_LAYERS = 2_000;

    public function __construct(private Connection $database)
    {
    }

    /**
     * A page of captures, newest first.
     *
     * @param CaptureMark|null $before the last line of the page before
     *
     * @return list<CaptureLine>
     */
    public function lines(Address $address, ?CaptureMark $before = null): array
    {
        $behind = null === $before ? '' : ' AND c.captured_at <= ? AND (c.captured_at < ? OR c.id < ?)';
        $at = null === $before ? '' : MomentType::text($before->at);
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.id, c.code, c.captured_at, c.status, c.title, c.mime, c.parts, c.bytes, c.payload_sha256, c.redirect_to, c.agent, c.how, c.changed, c.url, c.dom_offset, f.origin, f.bytes AS file_bytes, LOWER(HEX(f.sha256)) AS file_digest'
            .' FROM capture c JOIN warc_file f ON f.id = c.warc_file_id WHERE c.address_id = ?'.$behind.' ORDER BY c.captured_at DESC, c.id DESC LIMIT '.self::PAGE,
            null === $before ? [$address->id] : [$address->id, $at, $at, $before->id],
        );

        return array_map(static fn (array $row): CaptureLine => CaptureLine::fromRow(new Row($row)), $rows);
    }

    /**
     * What the column is drawn from, oldest first.
     *
     * @return list<Layer>
     */
    public function layers(Address $address): array
    {
        $rows = $this->database->fetchAllAssociative(
            'SELECT code, captured_at, status, changed, redirect_to IS NOT NULL AS leads_on FROM capture WHERE address_id = ? ORDER BY captured_at DESC, id DESC LIMIT '.self::MAX_LAYERS,
            [$address->id],
        );

        return array_reverse(array_map(static function (array $values): Layer {
            $row = new Row($values);

            return new Layer($row->text('code'), $row->moment('captured_at'), $row->int('status'), $row->floatOrNull('changed'), 1 === $row->int('leads_on'));
        }, $rows));
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
        $totals = $this->database->fetchAssociative('SELECT (SELECT COUNT(*) FROM address) AS addresses, (SELECT COUNT(*) FROM capture) AS captures, COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes FROM warc_file');
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
