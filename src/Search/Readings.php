<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Reading;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Search\Piece;

/**
 * What was read in pictures, recordings and files: each once, by its digest. Nobody is told of them but through the texts of what shows
 * them, which the gate holds. They outlive the index: to read them again would take hours.
 */
final readonly class Readings
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @param list<string> $digests SHA-256 in hex
     *
     * @return list<string> those that were not read yet
     */
    public function missing(array $digests): array
    {
        $known = [] === $digests ? [] : array_filter($this->database->fetchFirstColumn(
            'SELECT LOWER(HEX(digest)) FROM search_reading WHERE digest IN (?)', [self::binary($digests)], [ArrayParameterType::BINARY],
        ), is_string(...));

        return array_values(array_diff(array_unique($digests), $known));
    }

    public function keep(string $digest, Reading $reading): void
    {
        $this->database->executeStatement(
            'REPLACE INTO search_reading (digest, means, body, failure) VALUES (?, ?, ?, ?)',
            [
                self::binary([$digest])[0], $reading->means->value,
                (string) gzdeflate(implode("\n", array_map(
                    static fn (string $text): string => trim((string) preg_replace('/\s+/u', ' ', mb_scrub($text))), $reading->paragraphs,
                )), 6),
                $reading->failure,
            ],
            [ParameterType::BINARY, ParameterType::INTEGER, ParameterType::LARGE_OBJECT],
        );
    }

    /**
     * A capture shows these pictures, and no others.
     *
     * @param array<string, array{int, bool}> $shown by digest: number of the passage with which it stands, -1 where it is with none; and
     *     whether it is a capture of its own, which may become one for some only
     */
    public function shows(int $capture, array $shown): void
    {
        $this->gone($capture);
        foreach ($shown as $digest => [$passage, $isLent]) {
            $this->database->executeStatement(
                'REPLACE INTO search_shown (capture_id, digest, passage, is_lent) VALUES (?, ?, ?, ?)',
                [$capture, self::binary([$digest])[0], $passage, (int) $isLent], [1 => ParameterType::BINARY],
            );
        }
    }

    /**
     * @param list<string> $codes of captures
     *
     * @return list<int> other captures that show what these are
     */
    public function borrowers(array $codes): array
    {
        return array_values(array_map(intval(...), array_filter($this->database->fetchFirstColumn(
            'SELECT DISTINCT other.capture_id FROM search_stand t JOIN search_shown s ON s.capture_id = t.capture_id'
                .' JOIN search_shown other ON other.digest = s.digest AND other.is_lent = 1 WHERE t.code IN (?)',
            [$codes], [ArrayParameterType::STRING],
        ), is_numeric(...))));
    }

    /** Under what the pages of a PDF are kept that are pictures. */
    public static function ofPages(string $digest): string
    {
        return hash('sha256', $digest.'pages that are pictures');
    }

    /** @return list<Piece> words in the pictures of a capture */
    public function ofCapture(int $capture): array
    {
        return self::pieces($this->database->fetchAllAssociative(
            'SELECT s.passage, r.means, r.body FROM search_shown s JOIN search_reading r ON r.digest = s.digest WHERE s.capture_id = ?'
                .' ORDER BY s.passage, s.digest', [$capture],
        ));
    }

    /**
     * @param list<string> $digests
     *
     * @return list<Piece>
     */
    public function ofFiles(array $digests): array
    {
        return [] === $digests ? [] : self::pieces($this->database->fetchAllAssociative(
            'SELECT -1 AS passage, means, body FROM search_reading WHERE digest IN (?) ORDER BY digest', [self::binary($digests)],
            [ArrayParameterType::BINARY],
        ));
    }

    public function gone(int $capture): void
    {
        $this->database->executeStatement('DELETE FROM search_shown WHERE capture_id = ?', [$capture]);
    }

    /** What captures show is looked for again; what was read is known. */
    public function clear(): void
    {
        $this->database->executeStatement('DELETE FROM search_shown');
    }

    /** @return array<string, int> how many files could not be read, by reason */
    public function failures(): array
    {
        $failures = [];
        foreach ($this->database->fetchAllAssociative(
            "SELECT failure, COUNT(*) AS n FROM search_reading WHERE failure > '' GROUP BY failure",
        ) as $values) {
            $row = new Row($values);
            $failures[$row->text('failure')] = $row->int('n');
        }

        return $failures;
    }

    /**
     * @param list<array<string, mixed>> $rows
     *
     * @return list<Piece>
     */
    private static function pieces(array $rows): array
    {
        $pieces = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $part = Means::from($row->int('means'))->part();
            foreach (explode("\n", (string) @gzinflate($row->text('body'))) as $text) {
                if ('' !== $text) {
                    $pieces[] = new Piece($part, $text, $row->int('passage'));
                }
            }
        }

        return $pieces;
    }

    /**
     * @param list<string> $digests
     *
     * @return list<string>
     */
    private static function binary(array $digests): array
    {
        return array_map(static fn (string $digest): string => (string) hex2bin($digest), $digests);
    }
}
