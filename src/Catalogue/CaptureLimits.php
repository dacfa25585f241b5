<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Catalogue\Value\Limit;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\LedgerMirror;
use Ypomna\App\Store\MirroredLedger;

/**
 * Says which captures are for some only, and marks every row by which they could be found: the capture, its records, its address, its
 * file. What was kept in one act goes together: a page and the redirects that led to it.
 */
final readonly class CaptureLimits
{
    private const AT_ONCE = 500;
    /** Redirects that lead to a page of a file of many are followed so far back. */
    private const HOPS = 20;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private Grants $grants,
        private Gate $gate,
        private MirroredLedger $ledger,
        private LedgerMirror $lines,
        private EventDispatcherInterface $events,
        private HistorySummaries $summaries,
    ) {
    }

    public function isConfidential(Viewer $viewer, Capture $capture): bool
    {
        return $capture->limited && [] !== $this->grants->confidentialAmong([$capture->code]);
    }

    /** Whether somebody may say whether it is confidential: whoever made it, and whoever sees everything. */
    public function maySay(Viewer $viewer, Capture $capture): bool
    {
        return $this->gate->sight($viewer)->isWhole() || (null !== $viewer->name && $viewer->name === $this->maker($capture));
    }

    /** Who captured it, or brought its file; null if that is not known. */
    public function maker(Capture $capture): ?string
    {
        if ($capture->limited && null !== ($maker = $this->grants->maker($capture->code))) {
            return $maker;
        }
        if (WarcFile::OWN === $capture->warcFile->origin) {
            return '' === $capture->agent ? null : $capture->agent;
        }
        // What a file of somebody else says of its maker is their word.
        $agent = $this->lines->line('file.taken-in', $capture->warcFile->path)->details['agent'] ?? null;

        return \is_string($agent) ? $agent : null;
    }

    public function say(Actor $actor, Capture $capture, bool $confidential): void
    {
        $maker = $this->maker($capture) ?? $actor->name;
        $this->change($actor, $capture, $confidential ? 'confidential' : 'not-confidential', '', function (array $codes) use (
            $confidential,
            $maker,
        ): void {
            $confidential ? $this->grants->made($codes, $maker) : $this->grants->madeForAll($codes);
        });
    }

    /** Closed is seen by nobody but who sees everything; it is held as before. */
    public function close(Actor $actor, Capture $capture, string $reason): void
    {
        $this->change($actor, $capture, 'closed', $reason, $this->grants->close(...));
    }

    public function reopen(Actor $actor, Capture $capture, string $reason): void
    {
        $this->change($actor, $capture, 'reopened', $reason, $this->grants->reopen(...));
    }

    /** @param \Closure(list<string>): void $grant */
    private function change(Actor $actor, Capture $capture, string $act, string $reason, \Closure $grant): void
    {
        $path = $capture->warcFile->path;
        TransactionRetry::transaction($this->database, function () use ($capture, $grant): void {
            $together = $this->together($capture);
            $grant(array_values($together));
            $this->apply($together, false);
        });
        $this->entities->clear();
        $this->ledger->enter(
            'capture.limited', $path, ['capture' => $capture->code, 'act' => $act, 'agent' => $actor->name]
                + ('' === $reason ? [] : ['reason' => $reason]),
        );
    }

    /** A file was entered; within the transaction that does it. */
    public function entered(int $file, Limit $limit, bool $again): void
    {
        if (null !== $limit->partsOf) {
            $isLimited = [] !== $this->grants->limitedAmong([$limit->partsOf]);
            $this->partsFile($file, $isLimited ? $limit->partsOf : null);
        }
        if (null === $limit->maker && null === $limit->dossier && !$again) {
            return;
        }
        $offset = -1;
        while ([] !== ($rows = $this->database->fetchAllAssociative(
            'SELECT id, code, response_offset FROM capture WHERE warc_file_id = ? AND response_offset > ? ORDER BY response_offset LIMIT '
                .self::AT_ONCE,
            [$file, $offset],
        ))) {
            $captures = [];
            foreach ($rows as $values) {
                $row = new Row($values);
                $captures[$row->int('id')] = $row->text('code');
                $offset = $row->int('response_offset');
            }
            if (null !== $limit->maker) {
                $this->grants->made(array_values($captures), $limit->maker);
            }
            if (null !== $limit->dossier) {
                $this->grants->held(array_values($captures), $limit->dossier);
            }
            $this->apply($captures, true);
        }
    }

    /** Somebody has handed in a file that is held: what is in it is theirs as well. */
    public function alsoMadeBy(Actor $actor, int $file): void
    {
        TransactionRetry::transaction($this->database, function () use ($actor, $file): void {
            $codes = array_values(array_filter($this->database->fetchFirstColumn(
                'SELECT code FROM capture WHERE warc_file_id = ? AND limited = 1', [$file],
            ), \is_string(...)));
            $this->grants->made($this->grants->confidentialAmong($codes), $actor->name);
        });
    }

    /** Whether a file has captures that are limited to some. */
    public function hasLimited(int $file): bool
    {
        return false !== $this->database->fetchOne('SELECT 1 FROM capture WHERE warc_file_id = ? AND limited = 1 LIMIT 1', [$file]);
    }

    /** The records of a file with parts of a capture follow that. */
    public function partsFile(int $file, ?string $capture): void
    {
        $this->database->executeStatement('UPDATE record SET limited_by = ? WHERE warc_file_id = ?', [$capture, $file]);
        $this->database->executeStatement('UPDATE warc_file SET limited = ? WHERE id = ?', [null === $capture ? 0 : 1, $file]);
    }

    /** @return array<int, string> codes by number: that capture and what was kept in the same act */
    private function together(Capture $capture): array
    {
        $file = $capture->warcFile->id;
        $pages = $this->database->fetchFirstColumn(
            'SELECT 1 FROM capture WHERE warc_file_id = ? AND redirect_to IS NULL LIMIT 2', [$file],
        );
        if (\count($pages) < 2) {
            return self::codes($this->database->fetchAllAssociative('SELECT id, code FROM capture WHERE warc_file_id = ?', [$file]));
        }
        $together = [(int) $capture->id => $capture->code];
        $led = [$capture->url];
        for ($hop = 0; $hop < self::HOPS && [] !== $led; ++$hop) {
            $rows = $this->database->fetchAllAssociative(
                'SELECT id, code, url FROM capture WHERE warc_file_id = ? AND redirect_to IN (?)', [$file, $led],
                [1 => ArrayParameterType::STRING],
            );
            $new = array_diff_key(self::codes($rows), $together);
            $together += $new;
            $led = [];
            foreach ($rows as $values) {
                if (isset($new[(new Row($values))->int('id')])) {
                    $led[] = (new Row($values))->text('url');
                }
            }
        }

        return $together;
    }

    /**
     * Marks the rows of captures as the gate has it by now.
     *
     * @param array<int, string> $captures codes by number
     */
    private function apply(array $captures, bool $areNew): void
    {
        $limited = array_fill_keys($this->grants->limitedAmong(array_values($captures)), true);
        foreach ([true, false] as $isLimited) {
            $changed = array_filter($captures, static fn (string $code): bool => isset($limited[$code]) === $isLimited);
            $rows = [] === $changed ? [] : $this->database->fetchAllAssociative(
                'SELECT id, code, address_id, warc_file_id FROM capture WHERE id IN (?) AND limited = ? ORDER BY id',
                [array_keys($changed), $isLimited ? 0 : 1], [ArrayParameterType::INTEGER],
            );
            if ([] === $rows) {
                continue;
            }
            $numbers = static fn (string $column): array => array_values(array_unique(array_map(
                static fn (array $values): int => (new Row($values))->int($column), $rows,
            )));
            [$addresses, $files] = [$numbers('address_id'), $numbers('warc_file_id')];
            sort($addresses);
            $this->database->executeStatement(
                'UPDATE capture SET limited = ? WHERE id IN (?)', [$isLimited ? 1 : 0, $numbers('id')], [1 => ArrayParameterType::INTEGER],
            );
            $this->addresses($addresses);
            array_walk($files, $this->records(...));
            if (!$areNew) {
                $this->summaries->drop();
            }
            $this->events->dispatch(new CapturesLimited(array_values(self::codes($rows)), $addresses, $files, $isLimited, $areNew));
        }
    }

    /** @param list<int> $addresses */
    private function addresses(array $addresses): void
    {
        $this->database->executeStatement(
            <<<'SQL'
                UPDATE address a SET
                    a.limited = (SELECT COUNT(*) FROM capture c WHERE c.address_id = a.id AND c.limited = 1),
                    a.open_last_at = (SELECT MAX(c.captured_at) FROM capture c WHERE c.address_id = a.id AND c.limited = 0)
                WHERE a.id IN (?)
                SQL,
            [$addresses],
            [ArrayParameterType::INTEGER],
        );
    }

    /**
     * The records of a file: of one that is limited as a whole, all; else those of the addresses of its captures that are. A record
     * says of which capture it is; one that belongs to all of a file, nothing.
     */
    private function records(int $file): void
    {
        $open = false !== $this->database->fetchOne('SELECT 1 FROM capture WHERE warc_file_id = ? AND limited = 0 LIMIT 1', [$file]);
        $pages = self::codes($this->database->fetchAllAssociative(
            'SELECT id, code FROM capture WHERE warc_file_id = ? AND redirect_to IS NULL LIMIT 2', [$file],
        ));
        $all = $open ? null : (1 === \count($pages) ? current($pages) : '');
        $this->database->executeStatement('UPDATE warc_file SET limited = ? WHERE id = ?', [$open ? 0 : 1, $file]);
        $this->database->executeStatement('UPDATE record SET limited_by = ? WHERE warc_file_id = ?', [$all, $file]);
        if ($open || '' === $all) {
            $this->database->executeStatement(
                <<<'SQL'
                    UPDATE capture c JOIN record r
                        ON r.url_hash = UNHEX(LEFT(SHA2(SUBSTRING_INDEX(c.url, '#', 1), 256), 32)) AND r.warc_file_id = c.warc_file_id
                    SET r.limited_by = c.code WHERE c.warc_file_id = ? AND c.limited = 1
                    SQL,
                [$file],
            );
        }
    }

    /**
     * @param list<array<string, mixed>> $rows with `id` and `code`
     *
     * @return array<int, string>
     */
    private static function codes(array $rows): array
    {
        $codes = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $codes[$row->int('id')] = $row->text('code');
        }

        return $codes;
    }
}
