<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Watch\Value\WatchSettings;

/** Reads and writes what holds for all watches. */
final readonly class WatchSettingsRepository
{
    public function __construct(private Connection $database, private EventDispatcherInterface $events)
    {
    }

    public function read(): WatchSettings
    {
        $row = Row::of($this->database->fetchAssociative('SELECT * FROM watch_setting WHERE id = 1'));

        return new WatchSettings(
            $row->floatOrNull('budget') ?? 500.0, $row->floatOrNull('bound') ?? 0.0, $row->momentOrNull('planned_at'),
            $row->text('mail_to'), $row->text('digest_at'), $row->text('quiet_from'), $row->text('quiet_to'), $row->text('zone'),
            $row->momentOrNull('digested_at'),
        );
    }

    public function planned(float $bound, \DateTimeImmutable $at): void
    {
        $this->database->executeStatement(
            'UPDATE watch_setting SET bound = ?, planned_at = ? WHERE id = 1', [$bound, MomentType::text($at)],
        );
    }

    public function digested(\DateTimeImmutable $at): void
    {
        $this->database->executeStatement('UPDATE watch_setting SET digested_at = ? WHERE id = 1', [MomentType::text($at)]);
    }

    public function set(
        Actor $by,
        float $budget,
        string $mailTo,
        string $digestAt,
        string $quietFrom,
        string $quietTo,
        string $zone,
    ): void {
        $this->database->executeStatement(
            <<<'SQL'
                UPDATE watch_setting
                SET budget = ?, mail_to = ?, digest_at = ?, quiet_from = ?, quiet_to = ?, zone = ?, planned_at = NULL
                WHERE id = 1
                SQL,
            [$budget, $mailTo, $digestAt, $quietFrom, $quietTo, $zone],
        );
        $this->events->dispatch(new SettingChanged($by, 'watches: '.$budget.' a day, '.$mailTo.' '.$digestAt.' '.$quietFrom.'-'.$quietTo));
    }
}
