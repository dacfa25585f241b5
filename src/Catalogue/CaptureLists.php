<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Catalogue\Value\NewestCapture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** What lists and tables ask of many captures at once. */
final readonly class CaptureLists
{
    private const AT_ONCE = 500;

    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    /**
     * @param list<string> $codes
     *
     * @return array<string, CaptureFacts> by code, of those that are held
     */
    public function facts(Viewer $viewer, array $codes): array
    {
        $facts = [];
        $sql = <<<'SQL'
            SELECT c.code, c.url, c.captured_at, c.title, c.verdict, c.how, f.origin,
                (SELECT COUNT(*) FROM record p WHERE p.warc_file_id = c.warc_file_id AND p.role = 'picture') AS pictures
            FROM capture c JOIN warc_file f ON f.id = c.warc_file_id WHERE c.code IN (?) AND %s
            SQL;
        $seen = $this->seen($viewer);
        foreach (array_chunk(array_values(array_unique($codes)), self::AT_ONCE) as $some) {
            $rows = $this->database->fetchAllAssociative(\sprintf($sql, $seen), [$some], [ArrayParameterType::STRING]);
            foreach ($rows as $values) {
                $one = CaptureFacts::fromRow($values);
                $facts[$one->code] = $one;
            }
        }

        return $facts;
    }

    /**
     * Codes of the captures whose answers stand at these places.
     *
     * @param array<array-key, array{int, int}> $places number of the file and offset
     *
     * @return array<array-key, string> by the key of the place
     */
    public function codesAt(Viewer $viewer, array $places): array
    {
        $byFile = [];
        foreach ($places as [$file, $offset]) {
            $byFile[$file][] = $offset;
        }
        $codes = [];
        $seen = $this->seen($viewer);
        foreach ($byFile as $file => $offsets) {
            foreach (array_chunk($offsets, self::AT_ONCE) as $some) {
                $rows = $this->database->fetchAllAssociative(
                    'SELECT c.response_offset, c.code FROM capture c WHERE c.warc_file_id = ? AND c.response_offset IN (?) AND '.$seen,
                    [$file, $some],
                    [1 => ArrayParameterType::INTEGER],
                );
                foreach ($rows as $values) {
                    $row = new Row($values);
                    $codes[$file.' '.$row->int('response_offset')] = $row->text('code');
                }
            }
        }
        $found = array_map(static fn (array $place): ?string => $codes[$place[0].' '.$place[1]] ?? null, $places);

        return array_filter($found, static fn (?string $code): bool => null !== $code);
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, int> numbers of the addresses, by number of the capture
     */
    public function addresses(Viewer $viewer, array $ids): array
    {
        $addresses = [];
        foreach (array_chunk($ids, self::AT_ONCE) as $some) {
            $rows = $this->database->fetchAllAssociative(
                'SELECT c.id, c.address_id FROM capture c WHERE c.id IN (?) AND '.$this->seen($viewer),
                [$some],
                [ArrayParameterType::INTEGER],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $addresses[$row->int('id')] = $row->int('address_id');
            }
        }

        return $addresses;
    }

    /**
     * Of each address in a range of keys the newest capture that has the page itself.
     *
     * @param array{string, string} $range from the first to before the second
     * @param int $most addresses
     *
     * @return list<NewestCapture> in the order of the keys
     */
    public function newestAlive(Viewer $viewer, array $range, int $most): array
    {
        $sql = <<<'SQL'
            SELECT c.id, c.url, c.code FROM (
                SELECT a.url_key, (
                    SELECT n.id FROM capture n
                    WHERE n.address_id = a.id AND n.status BETWEEN 200 AND 299 AND %s
                    ORDER BY n.captured_at DESC, n.id DESC LIMIT 1
                ) AS newest
                FROM address a WHERE a.url_key >= ? AND a.url_key < ? ORDER BY a.url_key LIMIT %d
            ) s JOIN capture c ON c.id = s.newest ORDER BY s.url_key
            SQL;

        return array_map(NewestCapture::fromRow(...), $this->database->fetchAllAssociative(
            \sprintf($sql, $this->gate->sight($viewer)->of('n.limited', 'n.code'), $most), $range,
        ));
    }

    /**
     * When the page of an address was captured, and how much it differed from the capture before.
     *
     * @return list<array{\DateTimeImmutable, float|null}> the newest first
     */
    public function changes(Viewer $viewer, string $url, int $most): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [$row->moment('captured_at'), $row->floatOrNull('changed')];
        }, $this->database->fetchAllAssociative(
            'SELECT c.captured_at, c.changed FROM address a JOIN capture c ON c.address_id = a.id'
            .' WHERE a.url_key = ? AND c.status BETWEEN 200 AND 299 AND '.$this->seen($viewer).' ORDER BY c.captured_at DESC LIMIT '
                .max(1, $most),
            [AddressKeys::keyOf($url)],
        ));
    }

    /** Whether a capture of the address after this one differs from the one before it. */
    public function changedSince(Viewer $viewer, Capture $capture): bool
    {
        return false !== $this->database->fetchOne(
            'SELECT 1 FROM capture c WHERE c.address_id = ? AND c.captured_at > ? AND c.status BETWEEN 200 AND 299 AND c.changed > 0 AND '
                .$this->seen($viewer).' LIMIT 1',
            [$capture->address->id, $capture->capturedAt->format('Y-m-d H:i:s.u')],
        );
    }

    /**
     * With which status each address answered at two moments, as far as is held.
     *
     * @param list<string> $keys
     *
     * @return array<string, array{before: int|null, after: int|null, code: string|null}> by key; with the capture that says the latter
     */
    public function statuses(Viewer $viewer, array $keys, string $before, string $after): array
    {
        $last = <<<'SQL'
            SELECT c.%s
            FROM capture c
            WHERE c.address_id = a.id AND c.captured_at <= ? AND %s
            ORDER BY c.captured_at DESC, c.id DESC
            LIMIT 1
            SQL;
        $statuses = [];
        $seen = $this->seen($viewer);
        foreach (array_chunk($keys, self::AT_ONCE) as $some) {
            $rows = $this->database->fetchAllAssociative(
                \sprintf(
                    'SELECT a.url_key, ('.$last.') AS before_status, ('.$last.') AS after_status, ('.$last.') AS code',
                    'status', $seen, 'status', $seen, 'code', $seen,
                )
                .' FROM address a WHERE a.url_key IN (?)',
                [$before, $after, $after, $some],
                [3 => ArrayParameterType::STRING],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $statuses[$row->text('url_key')] = [
                    'before' => $row->intOrNull('before_status'), 'after' => $row->intOrNull('after_status'),
                    'code' => $row->textOrNull('code'),
                ];
            }
        }

        return $statuses;
    }

    private function seen(Viewer $viewer): string
    {
        return $this->gate->sight($viewer)->of('c.limited', 'c.code');
    }
}
