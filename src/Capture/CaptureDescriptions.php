<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Event\CaptureDescribed;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/**
 * What people write beside a capture while it is being made, or later: title, why, tags. It belongs to the job until there is a
 * capture, then to that; it is their word, not the evidence's.
 */
final readonly class CaptureDescriptions
{
    private const OFFERED = 40;
    private const SHOWN = 100;

    public function __construct(
        private Connection $database,
        private CaptureLists $captures,
        private ClockInterface $clock,
        private Gate $gate,
        private EventDispatcherInterface $events,
    ) {
    }

    public function ofJob(CaptureJob $job): CaptureDescription
    {
        return $this->one('s.job_id = ?', [$job->id])
            ?? (null === $job->captureCode ? null : $this->one('s.capture_code = ?', [$job->captureCode])) ?? new CaptureDescription();
    }

    /**
     * @param list<string> $codes of captures
     *
     * @return array<string, CaptureDescription> by code
     */
    public function ofCaptures(array $codes): array
    {
        $written = [];
        foreach ([] === $codes ? [] : $this->rows('s.capture_code IN (?)', [$codes], [ArrayParameterType::STRING]) as $row) {
            $written[$row->text('capture_code')] = self::description($row);
        }

        return $written;
    }

    public function write(Actor $actor, CaptureJob $job, CaptureDescription $description): void
    {
        $this->put($actor, $job->id, $job->captureCode, $description, $job->limited);
    }

    /** Beside a capture that no job made. */
    public function writeOf(Actor $actor, string $capture, CaptureDescription $description, bool $limited): void
    {
        $this->put($actor, null, $capture, $description, $limited);
    }

    private function put(Actor $actor, ?int $job, ?string $capture, CaptureDescription $description, bool $limited): void
    {
        TransactionRetry::transaction($this->database, function () use ($actor, $job, $capture, $description, $limited): void {
            $now = MomentType::text($this->clock->now());
            $this->database->executeStatement(
                <<<'SQL'
                    INSERT INTO capture_description (job_id, capture_code, title, why, person, written_at, limited)
                    VALUES (?, ?, ?, ?, ?, ?, ?)
                    ON DUPLICATE KEY UPDATE title = VALUES(title), why = VALUES(why), person = VALUES(person),
                        written_at = VALUES(written_at)
                    SQL,
                [$job, $capture, $description->title, $description->why, $actor->name, $now, (int) $limited],
            );
            $id = $this->database->fetchOne(
                'SELECT id FROM capture_description WHERE job_id = ? OR capture_code = ? LIMIT 1', [$job, $capture],
            );
            $this->database->executeStatement('DELETE FROM capture_description_tag WHERE description_id = ?', [$id]);
            $names = $description->tags;
            sort($names);
            foreach ($names as $name) {
                $this->database->executeStatement(
                    'INSERT INTO tag (name, last_at) VALUES (?, ?) ON DUPLICATE KEY UPDATE last_at = VALUES(last_at)', [$name, $now],
                );
                $this->database->executeStatement(
                    'INSERT IGNORE INTO capture_description_tag (description_id, tag_id) SELECT ?, id FROM tag WHERE name = ?',
                    [$id, $name],
                );
            }
        });
        if (null !== $capture) {
            $this->events->dispatch(new CaptureDescribed($actor, $capture, $description));
        }
    }

    /** The capture that a job came to has from now on what was written beside the job. */
    public function hand(int $job, string $capture): void
    {
        $this->database->executeStatement('UPDATE IGNORE capture_description SET capture_code = ? WHERE job_id = ?', [$capture, $job]);
    }

    /**
     * Tags that were used, the last ones first.
     *
     * @return list<string>
     */
    public function known(Viewer $viewer): array
    {
        $sight = $this->gate->sight($viewer);
        $sql = <<<'SQL'
            SELECT t.name FROM tag t WHERE %s ORDER BY t.last_at DESC LIMIT %d
            SQL;
        $used = $sight->isWhole() ? '1 = 1' : \sprintf(
            <<<'SQL'
                EXISTS (
                    SELECT 1 FROM capture_description_tag g JOIN capture_description d ON d.id = g.description_id
                    LEFT JOIN capture_job j ON j.id = d.job_id
                    WHERE g.tag_id = t.id AND %s
                )
                SQL,
            $sight->of('d.limited', 'COALESCE(d.capture_code, j.code)'),
        );

        return array_values(array_filter($this->database->fetchFirstColumn(\sprintf($sql, $used, self::OFFERED)), \is_string(...)));
    }

    /**
     * Captures with a tag, whoever sees them.
     *
     * @return array<int, string> codes by number of the description, behind one, rising
     */
    public function with(int $tag, int $behind, int $most): array
    {
        $codes = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT d.id, d.capture_code FROM capture_description_tag g JOIN capture_description d ON d.id = g.description_id'
                .' WHERE g.tag_id = ? AND g.description_id > ? AND d.capture_code IS NOT NULL ORDER BY g.description_id LIMIT '.max(1,
                    $most),
            [$tag, $behind],
        ) as $values) {
            $row = new Row($values);
            $codes[$row->int('id')] = $row->text('capture_code');
        }

        return $codes;
    }

    /**
     * Captures with a tag, the newest description first.
     *
     * @param int $before number of the description that was shown last; 0 for the first
     *
     * @return list<array{id: int, code: string, url: string, title: string, capturedAt: \DateTimeImmutable, hasPicture: bool}>
     */
    public function tagged(Viewer $viewer, string $tag, int $before = 0): array
    {
        $sql = <<<'SQL'
            SELECT d.id, d.title, d.capture_code
            FROM tag t
            JOIN capture_description_tag g ON g.tag_id = t.id
            JOIN capture_description d ON d.id = g.description_id
            WHERE t.name = ? AND d.capture_code IS NOT NULL AND (? = 0 OR g.description_id < ?)
            ORDER BY g.description_id DESC
            LIMIT %d
            SQL;
        $rows = $this->database->fetchAllAssociative(\sprintf($sql, self::SHOWN), [$tag, $before, $before]);
        $held = $this->captures->facts($viewer, array_values(array_filter(array_column($rows, 'capture_code'), \is_string(...))));
        $tagged = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $facts = $held[$row->text('capture_code')] ?? null;
            if (null !== $facts) {
                $title = '' === $row->text('title') ? $facts->title ?? '' : $row->text('title');
                $tagged[] = [
                    'id' => $row->int('id'), 'code' => $facts->code, 'url' => $facts->url, 'title' => $title,
                    'capturedAt' => $facts->capturedAt, 'hasPicture' => $facts->hasPicture,
                ];
            }
        }

        return $tagged;
    }

    /** @param list<mixed> $parameters */
    private function one(string $where, array $parameters): ?CaptureDescription
    {
        $rows = $this->rows($where, $parameters);

        return [] === $rows ? null : self::description($rows[0]);
    }

    /**
     * @param list<mixed> $parameters
     * @param list<ArrayParameterType::*> $types
     *
     * @return list<Row>
     */
    private function rows(string $where, array $parameters, array $types = []): array
    {
        $sql = <<<'SQL'
            SELECT
                s.capture_code, s.title, s.why, s.person,
                (
                    SELECT GROUP_CONCAT(t.name ORDER BY t.name SEPARATOR '\n')
                    FROM capture_description_tag g
                    JOIN tag t ON t.id = g.tag_id
                    WHERE g.description_id = s.id
                ) AS tags
            FROM capture_description s
            WHERE
            SQL;

        return array_map(
            static fn (array $values): Row => new Row($values),
            $this->database->fetchAllAssociative($sql.' '.$where, $parameters, $types),
        );
    }

    private static function description(Row $row): CaptureDescription
    {
        $tags = $row->textOrNull('tags') ?? '';

        return new CaptureDescription(
            $row->text('title'), $row->text('why'), '' === $tags ? [] : explode("\n", $tags), $row->text('person'),
        );
    }
}
