<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Watch\Value\SettingsWish;
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
            $row->floatOrNull('budget') ?? WatchSettings::BUDGET, $row->floatOrNull('bound') ?? 0.0, $row->momentOrNull('planned_at'),
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

    /** @param SettingsWish $wish one without faults */
    public function set(Actor $by, SettingsWish $wish): void
    {
        $this->database->executeStatement(
            <<<'SQL'
                UPDATE watch_setting
                SET budget = ?, mail_to = ?, digest_at = ?, quiet_from = ?, quiet_to = ?, zone = ?, planned_at = NULL
                WHERE id = 1
                SQL,
            [$wish->budget, $wish->mailTo, $wish->digestAt, $wish->quietFrom, $wish->quietTo, $wish->zone],
        );
        $this->events->dispatch(new SettingChanged(
            $by, 'watches: '.$wish->budget.' a day, '.$wish->mailTo.' '.$wish->digestAt.' '.$wish->quietFrom.'-'.$wish->quietTo,
        ));
    }

    /**
     * Changes them while nobody else does.
     *
     * @param \Closure(WatchSettings): void $change given them as they are now
     */
    public function exclusively(\Closure $change): WatchSettings
    {
        return $this->database->transactional(function () use ($change): WatchSettings {
            $this->database->fetchOne('SELECT id FROM watch_setting WHERE id = 1 FOR UPDATE');
            $change($this->read());

            return $this->read();
        });
    }
}
