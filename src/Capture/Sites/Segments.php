<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\Connection;
use Monolog\Attribute\WithMonologChannel;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Uid\Uuid;
use Ypomna\App\Capture\CaptureFailed;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\PlainVisit;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Event\CatalogueRebuilt;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\Value\Limit;
use Ypomna\App\Compare\Describer;
use Ypomna\App\Compare\Message\DescribeFile;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Software;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\Core\Fetch\SiteFile;
use Ypomna\Core\Warc\WarcReader;

/**
 * The files in which the pages of a site are kept: each worker fills one of its own, and another one when it has grown to the
 * size that is wanted (ISO 28500:2017, annex C). How far a file is good stands in the database; what a worker that was killed
 * had written behind that is cut off, all before it stays.
 */
#[WithMonologChannel('capture')]
final readonly class Segments
{
    /** After so many seconds a file is closed, so that its pages can be read. */
    private const AGE = 300;
    /** In milliseconds. */
    private const DESCRIBED_AFTER = 60_000;

    public function __construct(
        private Connection $database,
        private Store $store,
        private MirroredLedger $ledger,
        private FileRepository $files,
        private Indexer $indexer,
        private Describer $describer,
        private Originals $originals,
        private ClockInterface $clock,
        private MessageBusInterface $bus,
        private LoggerInterface $logger,
        #[Autowire('%env(int:WARC_ROLL_BYTES)%')] private int $rollBytes,
    ) {
    }

    /**
     * The file that a worker goes on with; a new one if it has none.
     *
     * @return Segment|null null if somebody else holds it
     */
    public function open(Crawl $crawl, int $slot): ?Segment
    {
        $values = $this->database->fetchAssociative(
            "SELECT id, path, info, bytes, pages, begun_at FROM crawl_segment WHERE slot_id = ? AND state = 'open' ORDER BY id LIMIT 1",
            [$slot],
        );
        $row = Row::of($values);
        if (false !== $values && (0 === $row->int('bytes') || !is_file($this->incoming($row->int('id'))))) {
            // It was put into the store, or a kill came before its first record was on the disk: either way it is done with.
            $this->store($row->int('id'), $crawl);
            $values = false;
        }
        if (false === $values) {
            return $this->begin($crawl, $slot);
        }
        $handle = $this->handle($this->incoming($row->int('id')));
        if (null === $handle) {
            return null;
        }
        ftruncate($handle, max(0, $row->int('bytes')));
        fseek($handle, 0, \SEEK_END);

        return new Segment(
            $row->int('id'),
            $this->incoming($row->int('id')),
            $handle,
            SiteFile::goOn($handle, $row->text('info'), $row->int('bytes'), self::id(...), $this->originals->known(...)),
            (float) $row->moment('begun_at')->format('U.u'),
            $row->int('pages'),
        );
    }

    /** Whether the next pages should go into another file. */
    public function isFull(Segment $segment): bool
    {
        return $segment->file->bytes() >= $this->rollBytes || (float) $this->clock->now()->format('U.u') - $segment->begun > self::AGE;
    }

    /** How far the file is good from now on; within the transaction that settles its pages. */
    public function good(Segment $segment): void
    {
        $this->database->update('crawl_segment', ['bytes' => $segment->file->bytes(), 'pages' => $segment->pages], ['id' => $segment->id]);
    }

    /** Puts the file into store, ledger and catalogue. */
    public function close(Segment $segment, Crawl $crawl): void
    {
        $segment->sync();
        $segment->close();
        $this->store($segment->id, $crawl);
    }

    /** Closes what a worker has open. */
    public function closeAll(Crawl $crawl, int $slot): void
    {
        foreach ($this->database->fetchFirstColumn("SELECT id FROM crawl_segment WHERE slot_id = ? AND state = 'open'", [$slot]) as $id) {
            $this->store(is_numeric($id) ? (int) $id : 0, $crawl);
        }
    }

    private function begin(Crawl $crawl, int $slot): ?Segment
    {
        if (!$this->store->hasRoom()) {
            throw new CaptureFailed(
                'storage', 'The disk of the store is nearly full. Make room, then go on; nothing that is held was touched.',
            );
        }
        $now = $this->clock->now();
        $info = self::id();
        $this->database->insert(
            'crawl_segment',
            [
                'crawl_id' => $crawl->id, 'slot_id' => $slot, 'path' => '', 'info' => $info, 'state' => 'open', 'bytes' => 0, 'pages' => 0,
                'begun_at' => MomentType::text($now),
            ],
        );
        $id = (int) $this->database->lastInsertId();
        $path = $now->format('Y/m/').$now->format('Ymd\THis\Z-').$crawl->code.'-'.$id.'.warc.gz';
        $this->database->update('crawl_segment', ['path' => $path], ['id' => $id]);
        $handle = $this->handle($this->incoming($id));
        if (null === $handle) {
            return null;
        }
        $file = SiteFile::begin($handle, $info, basename($path), $now, [
            'software' => Software::NAME, 'operator' => $crawl->agent, 'how' => $crawl->how->value,
            'http-header-user-agent' => PlainVisit::USER_AGENT, 'pages' => 'marked',
            'description' => 'The site that begins with '.implode(' ', \array_slice($crawl->seeds, 0, 20)),
            'robots' => $crawl->obey ? 'obey' : 'ignore ('.$crawl->overruled.')', 'isPartOf' => $crawl->code,
        ], self::id(...), $this->originals->known(...));
        $segment = new Segment($id, $this->incoming($id), $handle, $file, (float) $now->format('U.u'), 0);
        $segment->sync();
        $this->good($segment);

        return $segment;
    }

    /** Each step looks whether it was done already, so it may be broken off anywhere. */
    private function store(int $id, Crawl $crawl): void
    {
        $row = Row::of($this->database->fetchAssociative('SELECT path, bytes, pages FROM crawl_segment WHERE id = ?', [$id]));
        [$path, $incoming] = [$row->text('path'), $this->incoming($id)];
        if (is_file($incoming)) {
            $handle = $this->handle($incoming) ?? throw new \RuntimeException('Somebody else is at that file.');
            ftruncate($handle, max(0, $row->int('bytes')));
            fsync($handle);
            fclose($handle);
            if ($row->int('bytes') > 0 && self::holdsMore($incoming)) {
                $this->store->commit($incoming, $path);
            }
        }
        if (!$this->store->has($path)) {
            @unlink($incoming);
            $this->database->delete('crawl_segment', ['id' => $id]);

            return;
        }
        $sha256 = $this->store->digest($path);
        $line = $this->ledger->once(
            'site.kept',
            $path,
            [
                'sha256' => $sha256, 'bytes' => $this->store->size($path), 'pages' => $row->int('pages'), 'site' => $crawl->code,
                'agent' => $crawl->agent,
            ],
        );
        $file = $this->indexer->numberOf($sha256, $path)
            ?? $this->indexer->enter(
                $path, $sha256, WarcFile::OWN, basename($path), $line->at,
                limit: $crawl->limited ? Limit::confidential($crawl->agent) : Limit::none(),
            )->file;
        TransactionRetry::transaction($this->database, function () use ($id, $file): void {
            $this->database->update('crawl_segment', ['state' => 'stored', 'file_id' => $file], ['id' => $id]);
            // Whatever breaks the next line off, its pages are described.
            $this->bus->dispatch(new DescribeFile($file), [new DelayStamp(self::DESCRIBED_AFTER)]);
        });
        $this->describe($file);
    }

    /** The pages are in; what is not known of them yet must not hold up the site. */
    private function describe(int $file): void
    {
        try {
            $this->describer->few($file);
        } catch (\Throwable $e) {
            $this->logger->warning('The pages of a site’s file are described later.', ['file' => $file, 'exception' => $e]);
        }
    }

    /** Whether there is more in it than what says whose file it is: a sitemap alone is worth keeping, too. */
    private static function holdsMore(string $path): bool
    {
        $records = 0;
        foreach (WarcReader::open($path)->records() as $record) {
            if (++$records > 1) {
                return true;
            }
        }

        return false;
    }

    private function incoming(int $id): string
    {
        return $this->store->incoming('site-'.$id);
    }

    /**
     * @return resource|null null if somebody else holds it
     */
    private function handle(string $path)
    {
        $handle = @fopen($path, 'c+');
        if (false === $handle) {
            throw new CaptureFailed('storage', 'The store cannot be written to.');
        }
        if (!flock($handle, \LOCK_EX | \LOCK_NB)) {
            fclose($handle);

            return null;
        }
        fseek($handle, 0, \SEEK_END);

        return $handle;
    }

    private static function id(): string
    {
        return 'urn:uuid:'.Uuid::v4()->toRfc4122();
    }

    /** The files have other numbers now. */
    #[AsEventListener]
    public function onCatalogueRebuilt(CatalogueRebuilt $event): void
    {
        $last = 0;
        do {
            $rows = $this->database->fetchAllAssociative('SELECT id, path FROM crawl_segment WHERE id > ? ORDER BY id LIMIT 500', [$last]);
            $ids = $this->files->idsOf(array_values(array_filter(array_column($rows, 'path'), \is_string(...))));
            foreach ($rows as $values) {
                $row = new Row($values);
                $last = $row->int('id');
                if (isset($ids[$row->text('path')])) {
                    $this->database->update('crawl_segment', ['file_id' => $ids[$row->text('path')]], ['id' => $last]);
                }
            }
        } while ([] !== $rows);
    }
}
