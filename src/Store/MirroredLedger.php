<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Psr\Clock\ClockInterface;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Fixity\Ledger;
use Ypomna\Core\Fixity\LedgerFinding;
use Ypomna\Core\Fixity\LedgerLine;

/**
 * The ledger file and its mirror in the database. The file comes first; the mirror catches up with it before anything
 * is looked up there.
 */
final readonly class MirroredLedger
{
    /** Lines of the mirror that are read at a time. */
    private const AT_ONCE = 500;

    private Ledger $ledger;

    public function __construct(private Connection $database, private ClockInterface $clock, DataFolder $dataFolder)
    {
        $folder = $dataFolder->ledger();
        if (!is_dir($folder) && !@mkdir($folder, 0o700, true) && !is_dir($folder)) {
            throw new \RuntimeException(\sprintf('The folder “%s” cannot be made.', $folder));
        }
        $this->ledger = new Ledger($folder.'/ledger.txt');
    }

    /**
     * @param array<string, mixed> $details
     */
    public function enter(string $kind, string $subject, array $details): LedgerLine
    {
        $line = $this->append($kind, $subject, $details);
        $this->catchUp();

        return $line;
    }

    /**
     * Enters something in the file alone; the mirror follows with whatever is asked next.
     *
     * @param array<string, mixed> $details
     *
     * @throws \RuntimeException if the file is not the one that the mirror knows: a new chain is never begun beside an old one
     */
    public function append(string $kind, string $subject, array $details): LedgerLine
    {
        $missing = $this->missing();
        if ($missing > 0) {
            throw new \RuntimeException(\sprintf(
                'Nothing can be entered in the ledger: its file is not there or was cut off, %d bytes that the database’s mirror knows'
                    .' of are missing. Put it back from a copy, or run bin/ypomna ledger:restore, which writes it from the mirror.',
                $missing,
            ));
        }

        return $this->ledger->append($kind, $subject, $details, $this->clock->now());
    }

    /** How many bytes of the file are missing that the mirror knows of. */
    private function missing(): int
    {
        $end = $this->database->fetchOne('SELECT ends_at FROM ledger_line ORDER BY seq DESC LIMIT 1');

        return is_numeric($end) ? max(0, (int) $end - $this->ledger->size()) : 0;
    }

    /**
     * What is on record of that kind, about one subject or all.
     *
     * @return \Generator<int, LedgerLine> in their order
     */
    public function lines(string $kind, ?string $subject = null): \Generator
    {
        $this->catchUp();
        $seq = 0;
        do {
            $rows = $this->database->fetchAllAssociative(
                'SELECT seq, line FROM ledger_line WHERE '.(null === $subject ? 'kind = ?' : 'kind = ? AND subject = ?')
                    .' AND seq > ? ORDER BY seq LIMIT 20',
                null === $subject ? [$kind, $seq] : [$kind, $subject, $seq],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $seq = $row->int('seq');
                $line = LedgerLine::parse($row->text('line'));
                if (null !== $line) {
                    yield $line;
                }
            }
        } while ([] !== $rows);
    }

    /**
     * Holds the file against itself and against its mirror.
     *
     * @param \Closure(int, ?LedgerLine): void|null $each told of every line: its number, and the line if it can be read
     *
     * @return list<LedgerFinding> in the order of the lines; what concerns all of them is said of line 0
     */
    public function check(?\Closure $each = null): array
    {
        $mirrored = $this->database->fetchOne('SELECT COUNT(*) FROM ledger_line');
        $mirror = $differs = [];
        $lines = 0;
        $findings = $this->ledger->check(function (int $number, ?LedgerLine $line) use (&$mirror, &$differs, &$lines, $each): void {
            $lines = $number;
            if (1 === $number % self::AT_ONCE || [] === $mirror) {
                $mirror = $this->mirror($number);
            }
            if (isset($mirror[$number]) && $mirror[$number] !== $line?->hash) {
                $differs[] = new LedgerFinding($number, 'The line is not the one that the database’s mirror has of it.');
            }
            $each?->__invoke($number, $line);
        });
        if (is_numeric($mirrored) && (int) $mirrored > $lines) {
            $differs[] = new LedgerFinding(
                0,
                \sprintf('The ledger has %d lines, its mirror in the database %d: lines were cut off at its end.', $lines, (int) $mirrored),
            );
        }

        return [...$differs, ...$findings];
    }

    /**
     * Writes the file again from the mirror, where it is lost or cut off. What there is of it stays beside it under another name.
     *
     * @return int lines that were missing
     *
     * @throws \RuntimeException if the mirror has no more than the file, or another ledger
     */
    public function restore(): int
    {
        $known = 0;
        foreach ($this->ledger->check() as $finding) {
            throw new \RuntimeException(\sprintf(
                'Line %d of the ledger file: %s It was not cut off but altered, so nothing is written over it.',
                $finding->line,
                $finding->message,
            ));
        }
        foreach ($this->ledger->lines() as $text) {
            ++$known;
            if (($this->mirror($known, 1)[$known] ?? null) !== substr($text, 0, 64)) {
                throw new \RuntimeException(\sprintf(
                    'Line %d of the ledger file is not in the mirror: the mirror has nothing that the file lacks, or is of another ledger.',
                    $known,
                ));
            }
        }
        $texts = function (): \Generator {
            $seq = 0;
            while (false !== ($text = $this->database->fetchOne('SELECT line FROM ledger_line WHERE seq = ?', [++$seq]))) {
                yield \is_string($text) ? $text : '';
            }
        };

        return $this->ledger->writeAnew($texts()) - $known;
    }

    /**
     * @return array<int, string> hash by number
     */
    private function mirror(int $from, int $count = self::AT_ONCE): array
    {
        $hashes = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT seq, LOWER(HEX(hash)) AS hash FROM ledger_line WHERE seq >= ? AND seq < ?', [$from, $from + $count],
        ) as $values) {
            $row = new Row($values);
            $hashes[$row->int('seq')] = $row->text('hash');
        }

        return $hashes;
    }

    /** What is on record of that kind about the subject. */
    public function line(string $kind, string $subject): ?LedgerLine
    {
        $this->catchUp();
        $text = $this->database->fetchOne(
            'SELECT line FROM ledger_line WHERE subject = ? AND kind = ? ORDER BY seq LIMIT 1', [$subject, $kind],
        );

        return \is_string($text) ? LedgerLine::parse($text) : null;
    }

    /**
     * Enters something unless it is on record already.
     *
     * @param array<string, mixed> $details
     */
    public function once(string $kind, string $subject, array $details): LedgerLine
    {
        return $this->line($kind, $subject) ?? $this->enter($kind, $subject, $details);
    }

    public function ledger(): Ledger
    {
        return $this->ledger;
    }

    /** Copies what the mirror has not yet. */
    public function catchUp(): void
    {
        $last = $this->database->fetchAssociative('SELECT seq, ends_at FROM ledger_line ORDER BY seq DESC LIMIT 1');
        $from = false === $last || !is_numeric($last['ends_at']) ? 0 : (int) $last['ends_at'];
        foreach ($this->ledger->lines($from) as $end => $text) {
            $line = LedgerLine::parse($text);
            if (null === $line || !$line->holds()) {
                return;
            }
            try {
                $this->database->insert('ledger_line', [
                    'seq' => $line->seq, 'hash' => hex2bin($line->hash), 'kind' => $line->kind, 'subject' => $line->subject,
                    'at' => MomentType::text($line->at), 'ends_at' => $end, 'line' => $text,
                ]);
            } catch (UniqueConstraintViolationException) {
                // Another process was faster.
            }
        }
    }
}
