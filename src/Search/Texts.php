<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Piece;
use Ypomna\Core\Search\Writing;

/**
 * Texts that are looked through, each once, with the captures in which it stands. What the index has of them follows: whatever is not in it
 * yet is marked so ({@see IndexEntries}).
 */
final readonly class Texts
{
    /** Columns of the index, and what of a text is in them. */
    public const PARTS = [
        'title' => Part::Title, 'about' => Part::About, 'heads' => Part::Heading, 'main' => Part::Main, 'rest' => Part::Rest,
        'seen' => Part::Seen, 'heard' => Part::Heard,
    ];
    private const LONGEST_TITLE = 1_000;

    public function __construct(
        private Connection $database,
        private Engine $engine,
        private Vocabulary $vocabulary,
        private CaptureMaintenance $captures,
        private IndexEntries $entries,
    ) {
    }

    /**
     * A capture has this text; the one that it had before goes where no other capture has it.
     *
     * @param string $site host of its address, without `www.`
     * @param list<string> $tags
     * @param bool $toRead whether it shows something that is to be read; asked for when it comes first
     */
    public function stands(Capture $capture, string $site, string $title, Writing $writing, array $tags, bool $toRead): void
    {
        $id = (int) $capture->id;
        $changed = TransactionRetry::transaction($this->database,
            function () use ($capture, $id, $site, $title, $writing, $tags, $toRead): array {
                $text = $this->text(Kind::Page, (int) $capture->address->id, $site, $title, $writing, $tags);
                $before = $this->database->fetchOne('SELECT text_id FROM search_stand WHERE capture_id = ?', [$id]);
                $this->database->executeStatement(
                    'INSERT INTO search_stand (capture_id, text_id, address_id, code, captured_at, limited, to_read)'
                        .' VALUES (?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE text_id = VALUES(text_id), address_id = VALUES(address_id),'
                        .' captured_at = VALUES(captured_at), limited = VALUES(limited), is_due = 0',
                    [
                        $id, $text, $capture->address->id, $capture->code, MomentType::text($capture->capturedAt),
                        // Asked for within the transaction: whoever limits it meanwhile waits for this, or this for them.
                        (int) $this->captures->isLimitedNow($id), (int) $toRead,
                    ],
                );

                return array_values(array_unique([$text, is_numeric($before) ? (int) $before : $text]));
            });
        $this->entries->follow($changed);
    }

    /**
     * What an item says, in place of what it said before.
     *
     * @param list<string> $tags
     */
    public function item(
        Kind $kind,
        int $item,
        string $site,
        string $title,
        Writing $writing,
        array $tags,
        \DateTimeImmutable $since,
        \DateTimeImmutable $until,
    ): void {
        $old = TransactionRetry::transaction($this->database,
            function () use (
                $kind, $item, $site, $title, $writing, $tags, $since, $until,
            ): array {
                $text = $this->text($kind, $item, $site, $title, $writing, $tags, $since, $until);
                $old = array_values(array_diff($this->ofItem($item), [$text]));
                $this->delete($old);

                return $old;
            });
        $this->leave($old);
    }

    public function dropItem(int $item): void
    {
        $old = $this->ofItem($item);
        $this->delete($old);
        $this->leave($old);
    }

    /** @return int|null the text of a capture; null if it was not taken yet */
    public function of(int $capture): ?int
    {
        $text = $this->database->fetchOne('SELECT text_id FROM search_stand WHERE capture_id = ?', [$capture]);

        return is_numeric($text) ? (int) $text : null;
    }

    /**
     * @param list<int> $captures
     *
     * @return list<int> those of them that were not taken yet
     */
    public function missing(array $captures): array
    {
        return array_values(array_diff($captures, array_map(intval(...), array_filter(
            [] === $captures ? [] : $this->database->fetchFirstColumn(
                'SELECT capture_id FROM search_stand WHERE capture_id IN (?)', [$captures], [ArrayParameterType::INTEGER],
            ), is_numeric(...),
        ))));
    }

    /** Something was written beside a capture: it is to be taken again. */
    public function due(string $capture): void
    {
        $this->database->executeStatement('UPDATE search_stand SET is_due = 1 WHERE code = ?', [$capture]);
    }

    /** @return list<int> numbers of captures that show something that was not read yet */
    public function toBeRead(int $most): array
    {
        return array_values(array_map(intval(...), array_filter(
            $this->database->fetchFirstColumn('SELECT capture_id FROM search_stand WHERE to_read = 1 ORDER BY capture_id LIMIT '.$most),
            is_numeric(...),
        )));
    }

    public function isToBeRead(int $capture): bool
    {
        return false !== $this->database->fetchOne('SELECT 1 FROM search_stand WHERE capture_id = ? AND to_read = 1', [$capture]);
    }

    /**
     * @param bool $hasWords whether it is to be taken again, with what was read
     *
     * @return bool whether it is to be taken again, for that or another reason
     */
    public function wasRead(int $capture, bool $hasWords): bool
    {
        $this->database->executeStatement(
            'UPDATE search_stand SET to_read = 0, is_due = is_due OR ? WHERE capture_id = ?', [(int) $hasWords, $capture],
        );

        return false !== $this->database->fetchOne('SELECT 1 FROM search_stand WHERE capture_id = ? AND is_due = 1', [$capture]);
    }

    /** A capture is there no more. */
    public function gone(int $capture): void
    {
        $text = $this->of($capture);
        $this->database->executeStatement('DELETE FROM search_stand WHERE capture_id = ?', [$capture]);
        $this->entries->follow(null === $text ? [] : [$text]);
    }

    /** @return list<int> numbers of captures that are to be taken again */
    public function allDue(int $most): array
    {
        return array_values(array_map(intval(...), array_filter(
            $this->database->fetchFirstColumn('SELECT capture_id FROM search_stand WHERE is_due = 1 LIMIT '.$most), is_numeric(...),
        )));
    }

    /**
     * Captures are for some only from now on, or for everybody again; within the transaction that makes it so.
     *
     * @param list<string> $codes
     *
     * @return list<int> texts that stand in them
     */
    public function limit(array $codes, bool $limited): array
    {
        $texts = array_map(intval(...), array_filter($this->database->fetchFirstColumn(
            'SELECT DISTINCT text_id FROM search_stand WHERE code IN (?)', [$codes], [ArrayParameterType::STRING],
        ), is_numeric(...)));
        $this->database->executeStatement(
            'UPDATE search_stand SET limited = ? WHERE code IN (?)', [(int) $limited, $codes],
            [ParameterType::INTEGER, ArrayParameterType::STRING],
        );
        if ([] !== $texts) {
            // Until the index is told, whoever asks is held against these tables.
            $this->database->executeStatement(
                'UPDATE search_text SET is_indexed = 2 WHERE id IN (?) AND is_indexed = 1', [array_values($texts)],
                [ArrayParameterType::INTEGER],
            );
        }

        return array_values($texts);
    }

    /**
     * What these captures show is to be looked for again. Until then nobody finds them but whoever may see what is for some only: whether
     * they still show it is not known.
     *
     * @param list<int> $captures
     */
    public function readAgain(array $captures): void
    {
        if ([] !== $captures) {
            $this->database->executeStatement(
                'UPDATE search_stand SET to_read = 1, is_due = 1, limited = 1 WHERE capture_id IN (?)', [$captures],
                [ArrayParameterType::INTEGER],
            );
            $this->database->executeStatement(
                'UPDATE search_text t JOIN search_stand s ON s.text_id = t.id SET t.is_indexed = 2'
                    .' WHERE s.capture_id IN (?) AND t.is_indexed = 1', [$captures], [ArrayParameterType::INTEGER],
            );
        }
    }

    /**
     * @param list<int> $texts
     *
     * @return array<int, list<Piece>> by number
     */
    public function pieces(array $texts): array
    {
        $pieces = [];
        foreach ([] === $texts ? [] : $this->database->fetchAllAssociative(
            'SELECT id, body FROM search_text WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $pieces[$row->int('id')] = Writing::unpack($row->text('body'));
        }

        return $pieces;
    }

    /**
     * What texts are like.
     *
     * @param list<int> $texts
     *
     * @return array<int, Fingerprint> of those that say enough
     */
    public function likenesses(array $texts): array
    {
        $likenesses = [];
        foreach ([] === $texts ? [] : $this->database->fetchAllAssociative(
            "SELECT id, likeness FROM search_text WHERE id IN (?) AND likeness <> ''", [$texts], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $likenesses[$row->int('id')] = Fingerprint::unpack($row->text('likeness'));
        }

        return $likenesses;
    }

    /** Forgets everything; it is taken in again from the holdings. */
    public function clear(): void
    {
        $this->database->executeStatement('DELETE FROM search_stand');
        $this->database->executeStatement('DELETE FROM search_text');
        $this->vocabulary->clear();
        if ($this->engine->isThere()) {
            $this->engine->clear();
        }
    }

    /** @return list<int> texts of an item; when its kind is another than before there may be several */
    private function ofItem(int $item): array
    {
        return array_values(array_map(intval(...), array_filter($this->database->fetchFirstColumn(
            'SELECT id FROM search_text WHERE kind IN (?) AND subject_id = ?', [Kind::OF_ITEMS, $item],
            [ArrayParameterType::INTEGER],
        ), is_numeric(...))));
    }

    /** @param list<int> $texts */
    private function delete(array $texts): void
    {
        if ([] !== $texts) {
            $this->database->executeStatement('DELETE FROM search_text WHERE id IN (?)', [$texts], [ArrayParameterType::INTEGER]);
        }
    }

    /** @param list<int> $texts */
    private function leave(array $texts): void
    {
        if ([] !== $texts && $this->engine->isThere()) {
            $this->engine->drop($texts);
        }
    }

    /** @param list<string> $tags */
    private function text(
        Kind $kind,
        int $subject,
        string $site,
        string $title,
        Writing $writing,
        array $tags,
        ?\DateTimeImmutable $since = null,
        ?\DateTimeImmutable $until = null,
    ): int {
        $digest = $writing->digest();
        $find = 'SELECT id, likeness FROM search_text WHERE kind = ? AND subject_id = ? AND digest = ? FOR UPDATE';
        $types = [ParameterType::INTEGER, ParameterType::INTEGER, ParameterType::BINARY];
        $row = $this->database->fetchAssociative($find, [$kind->value, $subject, $digest], $types);
        $held = false === $row ? null : $row['id'];
        if (false !== $row && Kind::Page === $kind && '' === $row['likeness']) {
            // An earlier version did not know what it is like.
            $this->database->executeStatement(
                'UPDATE search_text SET likeness = ? WHERE id = ?', [$writing->likeness()?->pack() ?? '', $held], [ParameterType::BINARY],
            );
        }
        if (!is_numeric($held)) {
            $likeness = Kind::Page === $kind ? $writing->likeness()?->pack() ?? '' : '';
            $this->database->executeStatement(
                'INSERT IGNORE INTO search_text (kind, subject_id, digest, language, site, title, body, is_cut, since, until, tags,'
                    .' likeness)'
                    .' VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
                [
                    $kind->value, $subject, $digest, $writing->language ?? '', mb_strcut($site, 0, 255),
                    mb_substr($title, 0, self::LONGEST_TITLE), $writing->pack(), (int) $writing->isCut,
                    null === $since ? null : MomentType::text($since), null === $until ? null : MomentType::text($until),
                    implode("\n", array_map(static fn (string $tag): string => strtr($tag, "\n", ' '), $tags)), $likeness,
                ],
                [2 => ParameterType::BINARY, 6 => ParameterType::LARGE_OBJECT, 11 => ParameterType::BINARY],
            );
            $held = $this->database->fetchOne($find, [$kind->value, $subject, $digest], $types);
        }

        return is_numeric($held) ? (int) $held : throw new \LogicException('A text that was just written is gone.');
    }
}
