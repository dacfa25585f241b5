<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Event\ItemTouched;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;

/**
 * Files that belong to items. Each is kept once under its checksum, is never written to again, and has a line in the ledger. A
 * recording comes piece by piece while it is made: what has come is kept, also when no more comes.
 */
final readonly class Attachments
{
    public const LARGEST = 1_073_741_824;
    public const MOST_OF_ITEM = 200;
    public const MOST_MARKS = 500;
    public const LONGEST_MARK = 300;
    /** Of a recording, in seconds. */
    public const LONGEST_SOUND = 864_000;
    private const LONGEST_NAME = 255;
    private const PIECE = 4_194_304;
    /** After so long without a further piece a recording is over. */
    private const OVER = '-30 minutes';

    public function __construct(
        private Connection $database,
        private DataFolder $folder,
        private MirroredLedger $ledger,
        private Journal $journal,
        private ItemRepository $items,
        private ClockInterface $clock,
        private EventDispatcherInterface $events,
    ) {
    }

    /** @return list<Attachment> the first one first */
    public function of(Item $item): array
    {
        return $this->some('item_id = ? AND deleted_at IS NULL', [$item->id()]);
    }

    public function byCode(string $code): ?Attachment
    {
        return $this->some('code = ?', [$code])[0] ?? null;
    }

    /**
     * @param bool $orGone whether one that was taken away is seen, too
     *
     * @return array{Attachment, Item}|null with its item; null if there is none, or it is not seen
     */
    public function seen(Viewer $viewer, string $code, bool $orGone = false): ?array
    {
        $attachment = $this->byCode($code);
        $item = null === $attachment || (null !== $attachment->deletedAt && !$orGone)
            ? null : $this->items->byNumbers($viewer, [$attachment->item])[$attachment->item] ?? null;

        return null === $attachment || null === $item ? null : [$attachment, $item];
    }

    /** The files of one item belong to another one, too: the same bytes, under other codes. */
    public function copy(Actor $actor, Item $from, Item $into): void
    {
        foreach ($this->of($from) as $one) {
            if ($one->isWhole()) {
                $copy = $this->enter($actor, $into, $one->name, $one->type);
                $this->database->update('attachment', [
                    'sha256' => $one->sha256, 'bytes' => $one->bytes, 'marks' => json_encode($one->marks, \JSON_THROW_ON_ERROR),
                ], ['id' => $copy->id]);
                $this->enterKept($copy, (string) $one->sha256, $one->bytes);
            }
        }
    }

    /**
     * @param list<int> $items numbers
     *
     * @return list<Attachment> of all of them that are whole
     */
    public function ofAll(array $items): array
    {
        return [] === $items ? [] : $this->some(
            'deleted_at IS NULL AND sha256 IS NOT NULL AND item_id IN ('.implode(', ', array_map(strval(...), $items)).')', [],
        );
    }

    /** Where its bytes are. */
    public function path(Attachment $attachment): string
    {
        return null === $attachment->sha256 ? $this->coming($attachment->code) : $this->folder->attachment($attachment->sha256);
    }

    /**
     * @param string $path of a file that may be moved away
     *
     * @throws CannotChange
     */
    public function add(Actor $actor, Item $item, string $path, string $name, string $type): Attachment
    {
        $bytes = filesize($path);
        if (false === $bytes || $bytes > self::LARGEST) {
            throw new CannotChange('desk.file_is_too_large');
        }
        $attachment = $this->enter($actor, $item, $name, $type);
        $place = $this->coming($attachment->code);
        if (!@rename($path, $place) && !copy($path, $place)) {
            throw new \RuntimeException('The file cannot be put into the data folder.');
        }

        return $this->finish($attachment);
    }

    /**
     * Something that will come piece by piece.
     *
     * @throws CannotChange
     */
    public function begin(Actor $actor, Item $item, string $name, string $type): Attachment
    {
        $attachment = $this->enter($actor, $item, $name, $type);
        touch($this->coming($attachment->code));

        return $attachment;
    }

    /**
     * @param resource $piece
     *
     * @return int how many bytes are there; a piece that does not begin where those end is not taken
     *
     * @throws CannotChange
     */
    public function append(Attachment $attachment, int $at, $piece): int
    {
        $path = $this->coming($attachment->code);
        $file = $attachment->isWhole() ? false : @fopen($path, 'r+');
        if (false === $file || !flock($file, \LOCK_EX)) {
            throw new CannotChange('desk.recording_is_over');
        }
        try {
            clearstatcache(true, $path);
            if (!is_file($path)) {
                throw new CannotChange('desk.recording_is_over');
            }
            fseek($file, 0, \SEEK_END);
            $there = (int) ftell($file);
            if ($at !== $there) {
                return $there;
            }
            $taken = stream_copy_to_stream($piece, $file, min(self::PIECE, self::LARGEST - $there));
            fflush($file);
            fsync($file);
            $there += (int) $taken;
        } finally {
            fclose($file);
        }
        $this->database->update(
            'attachment', ['bytes' => $there, 'last_at' => MomentType::text($this->clock->now())], ['id' => $attachment->id],
        );

        return $there;
    }

    /** All of it has come: from now on it is what its checksum says. Whoever ends it second finds it ended. */
    public function finish(Attachment $attachment): Attachment
    {
        $path = $this->coming($attachment->code);
        $file = $attachment->isWhole() ? false : @fopen($path, 'r');
        if (false !== $file) {
            flock($file, \LOCK_EX);
        }
        $now = $this->byCode($attachment->code) ?? throw new \LogicException('It was written before.');
        if ($now->isWhole()) {
            return $now;
        }
        if (false === $file) {
            throw new \RuntimeException('What came of a file is gone.');
        }
        $digest = (string) hash_file('sha256', $path);
        $bytes = (int) filesize($path);
        $this->lay($path, $this->folder->attachment($digest));
        $this->enterKept($now, $digest, $bytes);
        $this->database->update('attachment', ['sha256' => $digest, 'bytes' => $bytes], ['id' => $now->id]);
        @unlink($path);
        fclose($file);
        $this->events->dispatch(new ItemTouched($now->item));

        return $this->byCode($attachment->code) ?? throw new \LogicException('It was written right now.');
    }

    /** Recordings whose window was closed are over, and what had come of them is kept. */
    #[AsEventListener(RoundMade::class)]
    public function sweep(): void
    {
        foreach ($this->some('sha256 IS NULL AND last_at < ?', [MomentType::text($this->clock->now()->modify(self::OVER))]) as $one) {
            if (is_file($this->coming($one->code))) {
                $this->finish($one);
            }
        }
    }

    /**
     * @param list<array{at: float, text: string}> $marks in place of those before
     */
    public function mark(Attachment $attachment, array $marks): void
    {
        usort($marks, static fn (array $a, array $b): int => $a['at'] <=> $b['at']);
        $marks = array_map(static fn (array $mark): array => [
            'at' => round(max(0.0, min((float) self::LONGEST_SOUND, $mark['at'])), 1),
            'text' => mb_substr(mb_scrub($mark['text']), 0, self::LONGEST_MARK),
        ], \array_slice($marks, 0, self::MOST_MARKS));
        $this->database->update('attachment', ['marks' => json_encode($marks, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE)], [
            'id' => $attachment->id,
        ]);
    }

    /** Its bytes stay: they are in the ledger. */
    public function takeAway(Actor $actor, Item $item, Attachment $attachment, bool $back = false): void
    {
        $this->database->update('attachment', ['deleted_at' => $back ? null : MomentType::text($this->clock->now())], [
            'id' => $attachment->id,
        ]);
        $this->journal->item($actor, $item, $back ? ActKind::Attached : ActKind::Detached, ['what' => $attachment->name]);
    }

    /** What is there already under its checksum is not written again; what is killed half-way is done again from what came. */
    private function lay(string $path, string $place): void
    {
        if (!is_dir(\dirname($place)) && !@mkdir(\dirname($place), 0o700, true) && !is_dir(\dirname($place))) {
            throw new \RuntimeException('A folder for attachments cannot be made.');
        }
        if (is_file($place)) {
            return;
        }
        $half = $place.'.half';
        if (!@link($path, $half) && !copy($path, $half)) {
            throw new \RuntimeException('The file cannot be put into the data folder.');
        }
        chmod($half, 0o400);
        rename($half, $place);
    }

    private function enterKept(Attachment $attachment, string $sha256, int $bytes): void
    {
        $this->ledger->enter('attachment.kept', $attachment->code, [
            'sha256' => $sha256, 'bytes' => $bytes, 'name' => $attachment->name, 'person' => $attachment->person,
        ]);
    }

    /** @throws CannotChange */
    private function enter(Actor $actor, Item $item, string $name, string $type): Attachment
    {
        if (\count($this->of($item)) >= self::MOST_OF_ITEM) {
            throw new CannotChange('desk.too_many_attachments', ['most' => self::MOST_OF_ITEM]);
        }
        $name = trim((string) preg_replace('/[\/\\\\\x00-\x1F\x7F]+/u', '-', mb_scrub($name)), '. ');
        $code = Codes::random();
        $now = MomentType::text($this->clock->now());
        $folder = \dirname($this->coming($code));
        if (!is_dir($folder) && !@mkdir($folder, 0o700, true) && !is_dir($folder)) {
            throw new \RuntimeException('The folder for attachments cannot be made.');
        }
        $this->database->insert('attachment', [
            'code' => $code, 'item_id' => $item->id(), 'name' => mb_substr('' === $name ? 'file' : $name, 0, self::LONGEST_NAME),
            'type' => 1 === preg_match('~^[a-z]+/[a-z0-9.+-]{1,80}$~D', $type) ? $type : 'application/octet-stream', 'bytes' => 0,
            'marks' => '[]', 'person' => $actor->name, 'added_at' => $now, 'last_at' => $now,
        ]);
        $attachment = $this->byCode($code) ?? throw new \LogicException('It was written right now.');
        $this->journal->item($actor, $item, ActKind::Attached, ['what' => $attachment->name]);

        return $attachment;
    }

    private function coming(string $code): string
    {
        return $this->folder->attachments().'/coming/'.$code;
    }

    /**
     * @param list<int|string> $values
     *
     * @return list<Attachment>
     */
    private function some(string $where, array $values): array
    {
        return array_map(static function (array $values): Attachment {
            $row = new Row($values);
            /** @var list<array{at: float, text: string}> $marks */
            $marks = json_decode($row->text('marks'), true, 4, \JSON_THROW_ON_ERROR);

            return new Attachment(
                $row->int('id'), $row->text('code'), $row->int('item_id'), $row->text('name'), $row->text('type'), $row->int('bytes'),
                $row->textOrNull('sha256'), $marks, $row->text('person'), $row->moment('added_at'), $row->momentOrNull('deleted_at'),
            );
        }, $this->database->fetchAllAssociative('SELECT * FROM attachment WHERE '.$where.' ORDER BY id LIMIT 40000', $values));
    }
}
