<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RequestStack;
use Ypomna\App\People\Value\LogLine;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Who signed in, who was refused, and whose rights were changed by whom. Lines are added, and never altered. */
final readonly class PeopleLog
{
    private const PAGE = 100;

    public function __construct(private Connection $database, private ClockInterface $realTime, private RequestStack $requests)
    {
    }

    /**
     * @param string $who acts; a name as it was typed, if it is nobody's
     * @param string $whom it concerns; '' if it is the same person
     * @param string $detail a role, or how many
     */
    public function note(LoggedAct $act, string $who, string $whom = '', string $detail = ''): void
    {
        $this->database->insert('person_log', [
            'at' => MomentType::text($this->realTime->now()), 'act' => $act->value, 'who' => mb_substr(mb_scrub($who), 0, 100),
            'whom' => $whom, 'detail' => $detail, 'network' => (string) $this->requests->getMainRequest()?->getClientIp(),
        ]);
    }

    #[AsEventListener]
    public function settingChanged(SettingChanged $event): void
    {
        $this->note(LoggedAct::SettingChanged, $event->by->name, '', mb_substr($event->what, 0, 200));
    }

    /**
     * @param int|null $before only what stands before that line
     *
     * @return list<LogLine> the newest first, a page of them
     */
    public function page(?int $before = null, int $most = self::PAGE): array
    {
        $rows = $this->database->fetchAllAssociative(
            'SELECT id, at, act, who, whom, detail, network FROM person_log WHERE id < ? ORDER BY id DESC LIMIT '.$most,
            [$before ?? \PHP_INT_MAX],
        );

        return array_map(static fn (array $row): LogLine => self::line(new Row($row)), $rows);
    }

    /** @return iterable<LogLine> all of them, the oldest first, a piece at a time */
    public function all(): iterable
    {
        $last = 0;
        do {
            $rows = $this->database->fetchAllAssociative(
                'SELECT id, at, act, who, whom, detail, network FROM person_log WHERE id > ? ORDER BY id LIMIT 1000', [$last],
            );
            foreach ($rows as $row) {
                $line = self::line(new Row($row));
                $last = $line->id;
                yield $line;
            }
        } while ([] !== $rows);
    }

    private static function line(Row $row): LogLine
    {
        return new LogLine(
            $row->int('id'), $row->moment('at'), LoggedAct::from($row->text('act')), $row->text('who'), $row->text('whom'),
            $row->text('detail'), $row->text('network'),
        );
    }
}
