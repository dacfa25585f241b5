<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\Queue\AbandonedMessage;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\Warc\WarcFinding;

/**
 * Where files are handed in: each comes in pieces into a folder of its own, which can be broken off and gone on with, and is
 * then taken in by a worker.
 */
final readonly class Arrivals
{
    private const STEP = 1_048_576;
    private const MANY = 500;
    /** After so long without a further piece it is given up. */
    private const EXPIRES = '-1 day';
    /** That one person may have begun at once. */
    private const MOST_COMING = 5_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Importer $importer,
        private Store $store,
        private LoggerInterface $logger,
        private DataFolder $folder,
        private Gate $gate,
        private Grants $grants,
        private CaptureLimits $limits,
        private FileRepository $files,
        private ArrivalWork $work,
        private Witnesses $witnesses,
    ) {
    }

    /**
     * A file that begins to come, or one that its owner had begun and that was broken off. Room for all of it is set aside.
     *
     * @param Actor $by hands it in
     * @param string|null $sha256 of the whole, hex, if that is known
     * @param SaidOfArrival $said what they say of it
     *
     * @throws UnusableFile
     */
    public function begin(
        Actor $by,
        string $name,
        int $bytes,
        int $modified,
        ?string $sha256 = null,
        SaidOfArrival $said = new SaidOfArrival(),
    ): Arrival {
        $owner = self::owner($by);
        $name = self::plainName($name);
        if ($bytes < 0 || (null !== $sha256 && 1 !== preg_match('/^[0-9a-f]{64}$/D', $sha256))) {
            throw new UnusableFile('exchange.size_or_digest_is_none', ['file' => $name]);
        }
        $files = $this->entities->getRepository(Arrival::class);
        $begun = $files->findOneBy([
            'state' => ArrivalState::Coming, 'owner' => $owner, 'name' => $name, 'bytes' => $bytes, 'modified' => max(0, $modified),
            'promised' => $sha256, 'limited' => $said->confidential,
        ]);
        if (null !== $begun) {
            return $begun;
        }
        $database = $this->entities->getConnection();
        // Two that begin at once must not both take the same room.
        $database->fetchOne("SELECT GET_LOCK('ypomna arrivals', 10)");
        try {
            if ($files->count(['state' => ArrivalState::Coming, 'owner' => $owner]) >= self::MOST_COMING) {
                throw new UnusableFile('exchange.files_are_on_their_way', ['most' => self::MOST_COMING]);
            }
            $reserved = $database->fetchOne(
                'SELECT COALESCE(SUM(bytes), 0) FROM arrival WHERE state IN (?, ?)',
                [ArrivalState::Coming->value, ArrivalState::Waiting->value],
            );
            if (!$this->store->hasRoom($bytes + (is_numeric($reserved) ? (int) $reserved : 0))) {
                throw new UnusableFile('exchange.no_room_for_file', ['file' => $name]);
            }
            $arrival = new Arrival(Codes::random(), $name, $bytes, max(0, $modified), $this->clock->now(), $by->name, $owner, $sha256);
            $arrival->limited = $said->confidential;
            $arrival->say($said);
            $this->entities->wrapInTransaction(function () use ($arrival, $by): void {
                $this->entities->persist($arrival);
                if ($arrival->limited) {
                    $this->grants->made([$arrival->code], $by->name);
                }
            });
        } finally {
            $database->fetchOne("SELECT RELEASE_LOCK('ypomna arrivals')");
        }

        return $arrival;
    }

    /**
     * Gives up what nobody goes on with, so that the room is free again.
     *
     * @return int how many
     */
    public function expire(): int
    {
        $old = $this->entities->createQuery('SELECT a FROM '.Arrival::class.' a WHERE a.state = :coming AND a.touchedAt < :then')
            ->setParameter('coming', ArrivalState::Coming)->setParameter(
                'then', $this->clock->now()->modify(self::EXPIRES), 'moment',
            )->setMaxResults(self::MANY)->getResult();
        $count = 0;
        foreach (\is_array($old) ? $old : [] as $arrival) {
            if ($arrival instanceof Arrival) {
                $this->refuse($arrival, new Explanation('exchange.file_was_broken_off'));
                ++$count;
            }
        }

        return $count;
    }

    /** Whether that is who hands it in: nobody else goes on with it. */
    public function isOf(Arrival $arrival, Actor $by): bool
    {
        return hash_equals($arrival->owner, self::owner($by));
    }

    private static function owner(Actor $by): string
    {
        return hash('sha256', $by->name);
    }

    /** Bytes that have come so far. */
    public function size(Arrival $arrival): int
    {
        clearstatcache(true, $this->path($arrival));

        return is_file($this->path($arrival)) ? (int) filesize($this->path($arrival)) : 0;
    }

    /**
     * Adds a piece at its place; a piece that came already is passed over.
     *
     * @param resource $body
     * @param string|null $sha256 of the piece, hex, if its sender gave it
     *
     * @return int bytes that are there now
     *
     * @throws UnusableFile
     */
    public function add(Arrival $arrival, int $at, $body, ?string $sha256 = null): int
    {
        (new Filesystem())->mkdir(\dirname($this->path($arrival)), 0o700);
        $handle = @fopen($this->path($arrival), 'c');
        if (false === $handle || !flock($handle, \LOCK_EX)) {
            throw new UnusableFile('exchange.store_cannot_be_written_to', ['file' => $arrival->name]);
        }
        try {
            $there = (int) (fstat($handle)['size'] ?? 0);
            if ($at !== $there) {
                return $there;
            }
            fseek($handle, $at);
            $digest = hash_init('sha256');
            while ('' !== ($piece = (string) fread($body, self::STEP))) {
                $there += \strlen($piece);
                if ($there > $arrival->bytes) {
                    ftruncate($handle, max(0, $at));
                    throw new UnusableFile('exchange.file_is_longer', ['file' => $arrival->name]);
                }
                if (@fwrite($handle, $piece) !== \strlen($piece)) {
                    ftruncate($handle, max(0, $at));
                    throw new UnusableFile('exchange.disk_took_no_more_of_file', ['file' => $arrival->name]);
                }
                hash_update($digest, $piece);
            }
            if (null !== $sha256 && !hash_equals(hash_final($digest), strtolower($sha256))) {
                ftruncate($handle, max(0, $at));
                throw new UnusableFile('exchange.piece_was_altered', ['file' => $arrival->name]);
            }
            $arrival->touchedAt = $this->clock->now();
            $this->entities->flush();

            return $there;
        } finally {
            fclose($handle);
        }
    }

    /**
     * All pieces are there: a worker does the rest.
     *
     * @throws UnusableFile if they do not come to what was promised
     */
    public function complete(Arrival $arrival): void
    {
        if (null !== $arrival->promised && !hash_equals($arrival->promised, (string) @hash_file('sha256', $this->path($arrival)))) {
            $this->refuse($arrival, new Explanation('exchange.file_is_another'));
            throw new UnusableFile('exchange.file_is_another_than_promised', ['file' => $arrival->name]);
        }
        $this->entities->wrapInTransaction(function () use ($arrival): void {
            $arrival->state = ArrivalState::Waiting;
            $this->entities->flush();
            $this->bus->dispatch(new ImportFile((int) $arrival->id));
        });
    }

    /**
     * A picture that belongs to a file is all there; it waits for that file, and goes with it.
     *
     * @throws UnusableFile
     */
    public function completeBeside(Arrival $picture): void
    {
        $path = $this->path($picture);
        if (null !== $picture->promised && !hash_equals($picture->promised, (string) @hash_file('sha256', $path))) {
            $this->refuse($picture, new Explanation('exchange.file_is_another'));
            throw new UnusableFile('exchange.file_is_another_than_promised', ['file' => $picture->name]);
        }
        if (!Witnesses::isPicture($path)) {
            $this->refuse($picture, new Explanation('exchange.picture_is_none', ['file' => $picture->name]));
            throw new UnusableFile('exchange.picture_is_none', ['file' => $picture->name]);
        }
    }

    /** A picture that somebody handed in for a file of theirs, whole; null if there is none. */
    public function beside(Actor $by, string $code): ?Arrival
    {
        $picture = $this->byCode($code);

        return null !== $picture && ArrivalState::Coming === $picture->state && $picture->said()->beside && $this->isOf($picture, $by)
            && $this->size($picture) === $picture->bytes ? $picture : null;
    }

    private function pictureOf(Arrival $arrival): ?Arrival
    {
        $code = $arrival->said()->picture;

        return null === $code || str_starts_with($code, 'data:') ? null : $this->beside(new Actor($arrival->person), $code)
            ?? throw new UnusableFile('exchange.picture_is_gone', ['file' => $arrival->name]);
    }

    /** What waited for another file is in it now. */
    private function letGo(Arrival $picture): void
    {
        (new Filesystem())->remove(\dirname($this->path($picture)));
        $this->entities->remove($this->entities->find(Arrival::class, $picture->id) ?? $picture);
        $this->entities->flush();
    }

    /** A file that a worker will get from elsewhere. */
    public function expect(Actor $by, string $name): Arrival
    {
        $now = $this->clock->now();
        $arrival = new Arrival(Codes::random(), self::plainName($name), 0, $now->getTimestamp(), $now, $by->name);
        $arrival->state = ArrivalState::Waiting;
        $this->entities->persist($arrival);
        $this->entities->flush();

        return $arrival;
    }

    /** Where the file of an arrival has to lie; its folder is made. */
    public function place(Arrival $arrival): string
    {
        (new Filesystem())->mkdir(\dirname($this->path($arrival)), 0o700);

        return $this->path($arrival);
    }

    /** What was expected does not come. */
    public function refuse(Arrival $arrival, Explanation $why): void
    {
        $arrival->state = ArrivalState::Refused;
        $arrival->message = $why->kept();
        $arrival->finishedAt = $this->clock->now();
        $this->entities->flush();
        (new Filesystem())->remove(\dirname($this->path($arrival)));
    }

    #[AsEventListener]
    public function givenUp(AbandonedMessage $event): void
    {
        $arrival = $event->message instanceof ImportFile ? $this->byId($event->message->arrivalId) : null;
        if (null !== $arrival && !$arrival->state->isFinal()) {
            $this->refuse($arrival, AbandonedMessage::why());
        }
    }

    public function byId(int $id): ?Arrival
    {
        return $this->entities->find(Arrival::class, $id);
    }

    #[AsMessageHandler]
    public function handle(ImportFile $message): void
    {
        $arrival = $this->entities->find(Arrival::class, $message->arrivalId);
        if (null === $arrival || $arrival->state->isFinal()) {
            return;
        }
        $path = $this->path($arrival);
        $picture = null;
        try {
            @touch($path, $arrival->modified);
            $picture = $this->pictureOf($arrival);
            $witness = $this->witnesses->of($arrival, null === $picture ? null : $this->path($picture), \dirname($path));
            $taken = $this->importer->file($path, new Actor($arrival->person), $arrival->limited, $witness);
            // A large file lets go of everything in between.
            $arrival = $this->entities->find(Arrival::class, $message->arrivalId) ?? $arrival;
            $arrival->sha256 = $taken->sha256;
            $arrival->records = $taken->records;
            $arrival->captures = $taken->captures;
            $arrival->findings = array_map(
                static fn (WarcFinding $finding): string => $finding->code->value.': '.mb_scrub($finding->message),
                \array_slice($taken->findings, 0, 100),
            );
            $wrong = [] !== array_filter($taken->findings, static fn (WarcFinding $finding): bool => !$finding->code->isWarning());
            if (null !== $taken->file) {
                $this->work->done($arrival, $taken->file);
            }
            if (null !== $taken->file && !$arrival->limited && $this->limits->hasLimited($taken->file)) {
                $arrival->limited = true;
                $this->grants->made([$arrival->code], $arrival->person);
            }
            $arrival->state = $taken->known ? ArrivalState::Known : ($wrong ? ArrivalState::Damaged : ArrivalState::Taken);
        } catch (UnusableFile $e) {
            $arrival->state = ArrivalState::Refused;
            $arrival->message = $e->explanation()->kept();
        } catch (\Throwable $e) {
            $this->logger->error('A file could not be imported.', ['arrival' => $arrival->code, 'exception' => $e]);
            $arrival->state = ArrivalState::Refused;
            $arrival->message = Explanation::unexpected()->kept();
        }
        $arrival->finishedAt = $this->clock->now();
        // It is in the file that was made, or was not taken.
        $arrival->say(SaidOfArrival::fromArray(array_diff_key($arrival->said()->toArray(), ['picture' => 0])));
        $this->entities->flush();
        (new Filesystem())->remove(\dirname($path));
        if (null !== $picture) {
            $this->letGo($picture);
        }
    }

    public function byCode(string $code): ?Arrival
    {
        return $this->entities->getRepository(Arrival::class)->findOneBy(['code' => $code]);
    }

    /** One that somebody may see; whoever handed it in sees it in any case. */
    public function seen(Viewer $viewer, string $code): ?Arrival
    {
        $arrival = $this->byCode($code);

        return null === $arrival || !$this->grants->open($this->gate->sight($viewer), $arrival->limited, $arrival->code) ? null : $arrival;
    }

    /**
     * @return list<Arrival> newest first
     */
    public function latest(Viewer $viewer): array
    {
        $sight = $this->gate->sight($viewer);
        $query = $this->entities->createQuery(
            'SELECT a FROM '.Arrival::class.' a WHERE '.$sight->dql('a.limited', 'a.code').' ORDER BY a.id DESC',
        )->setMaxResults(self::MANY);
        foreach ($sight->parameters() as $name => $value) {
            $query->setParameter($name, $value);
        }
        /** @var list<Arrival> $arrivals */
        $arrivals = $query->getResult();

        return $arrivals;
    }

    /** What was handed in is told as what came of it: where some of that is limited to some, it is for whoever handed it in. */
    #[AsEventListener]
    public function onCapturesLimited(CapturesLimited $event): void
    {
        foreach ($this->files->byIds($event->files) as $file) {
            $limited = $event->limited || $this->limits->hasLimited($file->id);
            foreach ($this->entities->getRepository(Arrival::class)->findBy(['sha256' => $file->sha256]) as $arrival) {
                if ($limited) {
                    $this->grants->made([$arrival->code], $arrival->person);
                } else {
                    $this->grants->madeForAll([$arrival->code]);
                }
                $this->entities->getConnection()->update('arrival', ['limited' => (int) $limited], ['id' => $arrival->id]);
            }
        }
    }

    private function path(Arrival $arrival): string
    {
        return $this->folder->arrivals().'/'.$arrival->code.'/'.$arrival->name;
    }

    /** A name that is one of a file and nothing else. */
    private static function plainName(string $name): string
    {
        $name = mb_strcut(trim((string) preg_replace('#.*[/\\\\]|[\x00-\x1f\x7f]#s', '', mb_scrub($name)), ' .'), 0, 180);

        return '' === $name ? 'file' : $name;
    }
}
