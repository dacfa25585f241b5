<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Search\Event\NewlyFound;
use Ypomna\App\Search\Value\SavedQuestion;
use Ypomna\App\Shared\Event\RemindersAsked;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/**
 * What somebody asked last, what they keep of it,
 * and what is watched: then they are told when something is found that was not found before.
 * Each has their own.
 */
final readonly class Questions
{
    public const MOST_SAVED = 200;
    /** Of those that are not saved. */
    private const REMEMBERED = 30;
    private const OFFERED = 8;
    private const LONGEST = 2_000;
    /** Looked for in one round, those that were looked for longest ago first. */
    private const AT_ONCE = 50;
    private const TOLD_FOR = '-30 days';
    private const COLUMNS = 'id, person, asked, query, is_saved, is_watched, behind, fresh, told_at';

    public function __construct(
        private Connection $database,
        private Searcher $searcher,
        private IndexEntries $entries,
        private KnownPeople $people,
        private EventDispatcherInterface $events,
        private TranslatorInterface $translator,
        private UrlGeneratorInterface $urls,
        private ClockInterface $clock,
    ) {
    }

    /**
     * It was asked, and is seen.
     *
     * @param array<string, string> $query
     *
     * @return SavedQuestion|null null of nobody who is known, and of what is too long to be kept
     */
    public function asked(Viewer $viewer, array $query): ?SavedQuestion
    {
        $query = self::kept($query);
        $text = http_build_query($query);
        $asked = trim($query['q'] ?? '');
        if (null === $viewer->name || '' === $asked || \strlen($text) > self::LONGEST) {
            return null;
        }
        $this->database->executeStatement(
            'INSERT INTO search_question (person, digest, query, asked, asked_at, behind) VALUES (?, ?, ?, ?, ?, ?)'
                .' ON DUPLICATE KEY UPDATE asked_at = VALUES(asked_at), behind = VALUES(behind), fresh = 0, told_at = NULL',
            [
                $viewer->name, self::digest($text), $text, mb_substr($asked, 0, 300), MomentType::text($this->clock->now()),
                $this->entries->reach(),
            ],
            [1 => ParameterType::BINARY],
        );
        $this->database->executeStatement(
            'DELETE FROM search_question WHERE person = ? AND is_saved = 0 AND asked_at <= (SELECT asked_at FROM (SELECT asked_at'
                .' FROM search_question WHERE person = ? AND is_saved = 0 ORDER BY asked_at DESC LIMIT 1 OFFSET '.self::REMEMBERED.')'
                    .' last)',
            [$viewer->name, $viewer->name],
        );

        return $this->some('person = ? AND digest = ?', [$viewer->name, self::digest($text)])[0] ?? null;
    }

    /** @return list<SavedQuestion> by name */
    public function saved(Viewer $viewer): array
    {
        return null === $viewer->name ? [] : $this->some('person = ? AND is_saved = 1 ORDER BY asked, id', [$viewer->name, null]);
    }

    /** @return list<SavedQuestion> those not saved, the last one first */
    public function last(Viewer $viewer): array
    {
        return null === $viewer->name ? [] : $this->some('person = ? AND is_saved = 0 ORDER BY asked_at DESC', [$viewer->name, null]);
    }

    /** @return list<SavedQuestion> that begin so, the last one first */
    public function beginning(Viewer $viewer, string $typed): array
    {
        $like = addcslashes(mb_substr($typed, 0, 300), '\\%_').'%';

        return null === $viewer->name ? [] : \array_slice($this->some(
            'person = ? AND asked LIKE ? ORDER BY asked_at DESC', [$viewer->name, $like],
        ), 0, self::OFFERED);
    }

    /**
     * @param array<string, string> $query
     *
     * @return bool false of nobody who is known, of what is too long to be kept, and where they keep too many
     */
    public function change(Viewer $viewer, array $query, bool $isSaved, bool $isWatched): bool
    {
        $digest = self::digest(http_build_query(self::kept($query)));
        $question = null === $viewer->name ? null
            : $this->some('person = ? AND digest = ?', [$viewer->name, $digest])[0] ?? $this->asked($viewer, $query);
        if (null === $question || ($isSaved && !$question->isSaved && \count($this->saved($viewer)) >= self::MOST_SAVED)) {
            return false;
        }
        $this->database->executeStatement(
            'UPDATE search_question SET is_saved = ?, behind = IF(is_watched, behind, ?), is_watched = ? WHERE id = ?',
            [(int) $isSaved, $this->entries->reach(), (int) ($isSaved && $isWatched), $question->id],
        );

        return true;
    }

    #[AsEventListener(RoundMade::class)]
    public function look(): void
    {
        $now = MomentType::text($this->clock->now());
        $rows = $this->searcher->isThere() ? $this->database->fetchAllAssociative(
            'SELECT '.self::COLUMNS.' FROM search_question WHERE is_watched = 1 ORDER BY looked_at LIMIT '.self::AT_ONCE,
        ) : [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $viewer = $this->people->viewer($row->text('person'));
            $question = self::read($row);
            try {
                $fresh = null === $viewer->name ? 0
                    : $this->searcher->fresh($viewer, SearchWishes::of($question->query), $row->int('behind'));
            } catch (EngineIsAway|\InvalidArgumentException) {
                $fresh = $row->int('fresh');
            }
            $isNews = $fresh > $row->int('fresh');
            // Whoever comes first tells it.
            $isMine = 0 < (int) $this->database->executeStatement(
                'UPDATE search_question SET fresh = ?, looked_at = ?, told_at = IF(?, ?, told_at) WHERE id = ? AND fresh = ?',
                [$fresh, $now, (int) $isNews, $now, $row->int('id'), $row->int('fresh')],
            );
            if ($isNews && $isMine) {
                $this->events->dispatch(new NewlyFound($row->text('person'), new SavedQuestion(
                    $question->id, $question->asked, $question->query, true, true, $fresh,
                )));
            }
        }
    }

    #[AsEventListener]
    public function tell(RemindersAsked $asked): void
    {
        foreach (null === $asked->viewer->name ? [] : $this->database->fetchAllAssociative(
            'SELECT '.self::COLUMNS.' FROM search_question WHERE person = ? AND is_watched = 1 AND fresh > 0 AND told_at > ?',
            [$asked->viewer->name, MomentType::text($this->clock->now()->modify(self::TOLD_FOR))],
        ) as $values) {
            $row = new Row($values);
            $question = self::read($row);
            $asked->tell(
                $row->moment('told_at'),
                $this->translator->trans('search.n_new_for_asked', ['n' => $question->fresh, 'asked' => $question->asked]),
                $this->urls->generate('search', ['order' => 'newest'] + $question->query),
            );
        }
    }

    /**
     * @param array<string, string> $query
     *
     * @return array<string, string> what makes it another question
     */
    private static function kept(array $query): array
    {
        $kept = array_intersect_key($query, array_flip(['q', 'in', 'look', 'year', 'site', 'kind', 'tag', 'language', 'state']));
        ksort($kept);

        return array_filter($kept, static fn (string $value): bool => '' !== $value);
    }

    /**
     * @param list<int|string|null> $values
     *
     * @return list<SavedQuestion>
     */
    private function some(string $where, array $values): array
    {
        return array_map(
            static fn (array $row): SavedQuestion => self::read(new Row($row)),
            $this->database->fetchAllAssociative(
                'SELECT '.self::COLUMNS.' FROM search_question WHERE '.$where.(str_contains($where, 'ORDER')
                    ? ' LIMIT '.self::MOST_SAVED : ''),
                array_values(array_filter($values, static fn (int|string|null $value): bool => null !== $value)),
                str_contains($where, 'digest') ? [1 => ParameterType::BINARY] : [],
            ),
        );
    }

    private static function read(Row $row): SavedQuestion
    {
        parse_str($row->text('query'), $query);
        $texts = [];
        foreach ($query as $name => $value) {
            if (\is_string($value)) {
                $texts[(string) $name] = $value;
            }
        }

        return new SavedQuestion(
            $row->int('id'), $row->text('asked'), $texts, 1 === $row->int('is_saved'), 1 === $row->int('is_watched'), $row->int('fresh'),
        );
    }

    private static function digest(string $text): string
    {
        return substr(hash('sha256', $text, true), 0, 16);
    }
}
