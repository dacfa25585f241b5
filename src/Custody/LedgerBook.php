<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Psr\Clock\ClockInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Catalogue\Type\MomentType;
use Ypomna\Core\Fixity\Ledger;
use Ypomna\Core\Fixity\LedgerLine;

/**
 * The ledger file and its mirror in the database. The file comes first; the mirror catches up with it before anything
 * is looked up there.
 */
final readonly class LedgerBook
{
    private Ledger $ledger;

    public function __construct(private Connection $database, private ClockInterface $clock, #[Autowire('%env(YPOMNA_DATA)%')] string $dataFolder)
    {
        $folder = $dataFolder.'/ledger';
        if (!is_dir($folder) && !@mkdir($folder, 0o755, true) && !is_dir($folder)) {
            throw new \RuntimeException(\sprintf('The folder “%s” cannot be made.', $folder));
        }
        $this->ledger = new Ledger($folder.'/ledger.txt');
    }

    /**
     * @param array<string, mixed> $details
     */
    public function enter(string $kind, string $subject, array $details): LedgerLine
    {
        $line = $this->ledger->append($kind, $subject, $details, $this->clock->now());
        $this->catchUp();

        return $line;
    }

    /** What is on record of that kind about the subject. */
    public function line(string $kind, string $subject): ?LedgerLine
    {
        $this->catchUp();
        $text = $this->database->fetchOne('SELECT line FROM ledger_line WHERE subject = ? AND kind = ? ORDER BY seq LIMIT 1', [$subject, $kind]);

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
