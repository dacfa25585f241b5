<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Monolog\Attribute\WithMonologChannel;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Entity\CaptureList;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Capture\Lists\PageLists;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Capture\Value\PageTask;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Catalogue\Value\Limit;
use Ypomna\App\Compare\Describer;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Limits;

/**
 * Keeps the page of a job, step by step: capture, put into the store, enter in the ledger, enter in the catalogue. Each
 * step looks whether it was done already, so a job whose worker was killed is taken up where it stood.
 */
#[AsMessageHandler]
#[WithMonologChannel('capture')]
final readonly class CapturePageHandler
{
    private const MAX_ATTEMPTS = 3;

    public function __construct(
        private ManagerRegistry $registry,
        private PageCapturer $capturer,
        private Store $store,
        private MirroredLedger $ledger,
        private Indexer $indexer,
        private FileRepository $files,
        private CaptureRepository $captures,
        private CaptureMaintenance $maintenance,
        private Describer $describer,
        private ClockInterface $clock,
        private Limits $limits,
        private PageLists $lists,
        private CaptureDescriptions $descriptions,
        private EventDispatcherInterface $events,
        private LoggerInterface $logger,
        private DataFolder $folder,
    ) {
    }

    public function __invoke(CapturePage $message): void
    {
        $job = $this->manager()->find(CaptureJob::class, $message->jobId);
        if (null === $job || $job->stage->isFinal()) {
            return;
        }
        ++$job->attempts;
        $this->manager()->flush();
        $this->logger->info('A capture begins.', ['job' => $job->code, 'how' => $job->how->value, 'attempt' => $job->attempts]);
        $files = new Filesystem();
        $folder = $this->folder->work($job->code);
        $incoming = $this->store->incoming($job->code);
        try {
            if ($job->attempts > self::MAX_ATTEMPTS) {
                throw new CaptureFailed(
                    'interrupted',
                    \sprintf('The capture was broken off %d times; something about this page brings the worker down.', self::MAX_ATTEMPTS),
                );
            }
            $files->remove([$folder, $incoming]);
            $done = CaptureMode::Parts === $job->how ? $this->complete($job, $folder, $incoming) : $this->whole($job, $folder, $incoming);
            if (null !== $done) {
                $this->finish($job, $done, null);
            }
        } catch (CaptureFailed $e) {
            $this->finish($job, null, $e);
        } catch (\Throwable $e) {
            $this->logger->error('A capture ended unexpectedly.', ['job' => $job->code, 'exception' => $e]);
            $this->finish(
                $job,
                null,
                new CaptureFailed(
                    'unexpected', 'The capture ended unexpectedly; the log says more. '.mb_strimwidth($e->getMessage(), 0, 300, '…'),
                ),
            );
        } finally {
            $files->remove([$folder, $incoming]);
            $this->manager()->clear();
        }
    }

    /** @return Capture|null null if the server wants to be asked later */
    private function whole(CaptureJob $job, string $folder, string $incoming): ?Capture
    {
        $wait = $this->keep($job, $folder, $incoming);
        if (null !== $wait) {
            $this->lists->later($job, $wait * (1 << max(0, $job->attempts - 1)));

            return null;
        }

        return $this->catalogue($job);
    }

    /** Gets what an earlier capture lacks: a second file, linked to the first, in which each part has its own moment. */
    private function complete(CaptureJob $job, string $folder, string $incoming): Capture
    {
        $capture = $this->captures->byCode(Viewer::system(), $job->missingOf ?? '')
            ?? throw new CaptureFailed('unexpected', 'The capture that lacks something is no longer in the catalogue.');
        if (!$this->store->has($job->path())) {
            $gaps = \is_array($capture->completeness['gaps'] ?? null) ? $capture->completeness['gaps'] : [];
            $wanted = array_values(array_filter(
                array_map(
                    static fn (mixed $gap): ?string => \is_array($gap) && \is_string($gap['url'] ?? null)
                        && 'not-recordable' !== ($gap['reason'] ?? '')
                        ? $gap['url']
                        : null,
                    $gaps,
                ),
                \is_string(...),
            ));
            (new Filesystem())->mkdir($folder, 0o700);
            $this->connection()->update('capture_job', ['stage' => CaptureStage::Loading->value], ['id' => $job->id]);
            $completes = ['capture' => $capture->code, 'url' => $capture->url, 'at' => MomentType::text($capture->capturedAt)];
            $got = $this->capturer->parts($this->task($job, $folder, $incoming, Url::parse($capture->url)), $wanted, $completes);
            if (0 === $got) {
                throw new CaptureFailed(
                    'still-missing', \sprintf('None of the %d missing parts can be fetched today.', \count($wanted)),
                );
            }
            $this->store->commit($incoming, $job->path());
        }
        $this->enter($job, 'capture.completed', ['completes' => $capture->code]);

        return $capture;
    }

    /**
     * Enters a job's file in ledger and catalogue.
     *
     * @param array<string, string> $details for the ledger
     *
     * @return int number of the file
     */
    private function enter(CaptureJob $job, string $kind, array $details): int
    {
        $path = $this->store->local($job->path());
        $this->connection()->update('capture_job', ['stage' => CaptureStage::Cataloguing->value], ['id' => $job->id]);
        $sha256 = (string) hash_file('sha256', $path);
        $line = $this->ledger->once(
            $kind,
            $job->path(),
            ['sha256' => $sha256, 'bytes' => (int) filesize($path), 'url' => $job->url, 'agent' => $job->agent] + $details,
        );

        return $this->files->idOf($job->path())
            ?? $this->indexer->enter(
                $job->path(), $sha256, WarcFile::OWN, basename($job->path()), $line->at,
                limit: match (true) {
                    null !== $job->missingOf => Limit::partsOf($job->missingOf),
                    $job->limited => Limit::confidential($job->agent, $job->dossier),
                    default => Limit::none($job->dossier),
                },
            )->file;
    }

    /** @return int|null seconds after which the server wants to be asked again, if it was too much for it */
    private function keep(CaptureJob $job, string $folder, string $incoming): ?int
    {
        if ($this->store->has($job->path())) {
            return null;
        }
        if (!$this->store->hasRoom()) {
            throw new CaptureFailed(
                'storage', 'The disk of the store is nearly full. Make room, then try again; nothing that is held was touched.',
            );
        }
        if (!@mkdir($folder, 0o700, true)) {
            throw new CaptureFailed('storage', \sprintf('The folder “%s” cannot be made.', $folder));
        }
        $report = $this->capturer->capture($this->task($job, $folder, $incoming), function (CaptureStage $stage) use ($job): void {
            $this->connection()->update('capture_job', ['stage' => $stage->value], ['id' => $job->id]);
        });
        if (null !== $report->retryAfter && null !== $job->listId && $job->attempts < self::MAX_ATTEMPTS) {
            return $report->retryAfter;
        }
        if (!$report->written || null !== $report->message) {
            throw new CaptureFailed($report->reason ?? 'unexpected', $report->message ?? 'The page could not be loaded.');
        }
        $this->store->commit($incoming, $job->path());

        return null;
    }

    private function task(CaptureJob $job, string $folder, string $incoming, ?Url $url = null): PageTask
    {
        $obeys = null !== $job->listId && true === $this->manager()->find(CaptureList::class, $job->listId)?->obey;

        return new PageTask(
            new Actor($job->agent), $url ?? Url::parse($job->url), $folder, $incoming, basename($job->path()),
            $job->options()->within($this->limits, $obeys),
        );
    }

    private function catalogue(CaptureJob $job): Capture
    {
        $file = $this->enter($job, 'capture.kept', []);
        $this->describer->file($file);

        return $this->maintenance->pageOf($file)
            ?? throw new CaptureFailed('unexpected', 'The file was written, but no page was found in it.');
    }

    private function finish(CaptureJob $job, ?Capture $capture, ?CaptureFailed $failure): void
    {
        $this->connection()->update('capture_job', [
            'stage' => (null === $failure ? CaptureStage::Done : CaptureStage::Failed)->value, 'capture_code' => $capture?->code,
            'verdict' => $capture?->verdict, 'reason' => $failure?->reason,
            'message' => $failure?->getMessage(), 'finished_at' => MomentType::text($this->clock->now()), 'secrets' => null,
        ], ['id' => $job->id]);
        $this->logger->info('A capture ended.', [
            'job' => $job->code, 'capture' => $capture?->code, 'verdict' => $capture?->verdict, 'reason' => $failure?->reason,
        ]);
        if (null !== $capture) {
            $this->descriptions->hand((int) $job->id, $capture->code);
        }
        $this->events->dispatch(new CaptureEnded($job->code, $capture?->code, $failure?->reason, $job->dossier, $job->agent, $job->due));
        if (null !== $capture && $job->brought && null === $job->dossier) {
            $this->events->dispatch(new BroughtIn(
                $job->agent, 'job:'.$job->code, capture: $capture->code, confidential: $job->limited, due: $job->due,
            ));
        }
    }

    private function manager(): EntityManagerInterface
    {
        $manager = $this->registry->getManager();
        \assert($manager instanceof EntityManagerInterface);

        return $manager;
    }

    private function connection(): Connection
    {
        return $this->manager()->getConnection();
    }
}
