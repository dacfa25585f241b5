<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Symfony\Component\Uid\Uuid;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Network\Extent;
use Ypomna\App\Shared\MachineClock;
use Ypomna\App\Shared\Software;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Fetch\CaptureFacts;
use Ypomna\Core\Fetch\CaptureFile;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Overwritten;
use Ypomna\Core\Fetch\Rendering;

/** Writes down what a capture brought as one WARC file, without what signs a person in. */
final readonly class CaptureWriter
{
    public function __construct(private CaptureJudge $judge, private ?Originals $originals, private string $clockSource)
    {
    }

    /** @throws CaptureFailed if this machine fails */
    public function write(OpenCapture $open, Exchange $main): CaptureReport
    {
        $how = $open->task->options->rendered ? 'rendered' : 'plain';
        if (Extent::Text === $open->task->options->extent && !$open->task->options->rendered && '' !== $open->visit->written) {
            file_put_contents($open->task->folder.'/text.txt', $open->visit->written);
            $open->visit->rendering = new Rendering(null, $open->task->folder.'/text.txt');
        }
        $overwritten = self::hidden($open, $main);
        $facts = new CaptureFacts(
            (string) $open->task->url, $main->url, $open->visit->title, $how, $open->task->operator->name, Software::NAME,
            $open->visit->browser, $open->pathfinder->answers(), $open->gateway->certificates(),
            $this->clock(),
            [
                'obeyed' => $open->task->options->obey,
                'allowed' => $open->robots->of($open->task->url)->allows($open->task->url),
                'said' => $open->robots->texts(),
            ],
            $open->connector->distrusted, $overwritten,
        );
        $out = @fopen($open->task->target, 'w');
        if (false === $out) {
            throw new CaptureFailed('storage', 'The store cannot be written to.');
        }
        try {
            $file = $this->file($open->task->options->packed);
            // What was asked for on our own account comes last: a file begins with the way to its page.
            $ours = array_filter(
                $open->gateway->exchanges(), static fn (Exchange $exchange): bool => isset($open->robots->exchanges[$exchange->number]),
            );
            $page = $file->write(
                $out,
                $open->task->fileName,
                [...array_values(array_diff_key($open->kept($main), $ours)), ...array_values($ours)],
                $main,
                $open->visit->rendering,
                $facts,
            );
            fflush($out);
            [$report, $replay] = $this->judge->judge($open, $main);
            $file->judged(
                $page,
                $main,
                $report->facts() + [
                    'replay' => $replay, 'seconds' => $report->seconds, 'places' => self::places($report, $open->visit),
                ] + (Extent::Whole === $open->task->options->extent ? [] : [
                    'extent' => $open->task->options->extent->value, 'part' => $open->task->options->part, 'says' => $open->visit->says,
                ]),
            );
            if (!fflush($out) || !fsync($out)) {
                throw new CaptureFailed('storage', 'The file could not be written to the disk for good.');
            }

            return $report;
        } catch (\RuntimeException $e) {
            throw $e instanceof CaptureFailed ? $e : new CaptureFailed('storage', 'The capture could not be written: '.$e->getMessage());
        } finally {
            fclose($out);
        }
    }

    /**
     * Writes what was fetched for an earlier capture, if anything was answered as it should be.
     *
     * @param array<string, mixed> $completes the capture that they belong to: `capture`, `url`, `at`
     *
     * @return int how many were answered as they should be
     *
     * @throws CaptureFailed
     */
    public function writeParts(OpenCapture $open, array $completes): int
    {
        $exchanges = $open->gateway->exchanges();
        $page = (string) $open->task->url;
        $good = \count(array_filter(
            $exchanges, static fn (Exchange $exchange): bool => null === GapReason::of($exchange) && $exchange->status < 300,
        ));
        $out = 0 === $good ? null : @fopen($open->task->target, 'w');
        if (false === $out) {
            throw new CaptureFailed('storage', 'The store cannot be written to.');
        }
        if (null === $out) {
            return 0;
        }
        $facts = new CaptureFacts(
            $page, $page, '', 'plain', $open->task->operator->name, Software::NAME, PlainVisit::USER_AGENT, $open->pathfinder->answers(),
            $open->gateway->certificates(), $this->clock(),
        );
        try {
            $this->file(true)->writeParts($out, $open->task->fileName, $exchanges, $completes, $facts, $open->begun);
            if (!fflush($out) || !fsync($out)) {
                throw new CaptureFailed('storage', 'The file could not be written to the disk for good.');
            }
        } catch (\RuntimeException $e) {
            throw $e instanceof CaptureFailed ? $e : new CaptureFailed('storage', 'The parts could not be written: '.$e->getMessage());
        } finally {
            fclose($out);
        }

        return $good;
    }

    private function file(bool $packed): CaptureFile
    {
        return new CaptureFile(
            static fn (): string => 'urn:uuid:'.Uuid::v4()->toRfc4122(),
            null === $this->originals ? null : $this->originals->known(...),
            $packed,
        );
    }

    /**
     * What signs a person in goes out of everything that is kept, and out of what is held against it.
     *
     * @return list<Overwritten>
     */
    private static function hidden(OpenCapture $open, Exchange $main): array
    {
        $secrets = $open->task->options->secrets();
        if (null === $secrets) {
            return [];
        }
        $done = $secrets->overwrite($open->gateway->exchanges());
        $made = [['rendered', $main->url, $open->visit->rendering->dom], ['text', $main->url, $open->visit->rendering->text]];
        foreach ($open->visit->rendering->frames as $frame) {
            $made[] = ['frame', $frame['url'], $frame['dom']];
        }
        foreach ($made as [$part, $url, $path]) {
            $done[] = null === $path ? null : $secrets->inFile($part, $main->number, $url, $path);
        }
        $open->visit->clean($secrets->clean(...));

        return array_values(array_filter($done, static fn (?Overwritten $one): bool => null !== $one));
    }

    /**
     * Where on the page lie the gaps.
     *
     * @return array{page: array{int, int}, gaps: list<array{url: string, box: array{int, int, int, int}}>}|null null if that is not known
     */
    private static function places(CaptureReport $report, Visit $visit): ?array
    {
        $gaps = [];
        foreach ($report->gaps as $gap) {
            if (isset($visit->places['parts'][$gap->url])) {
                $gaps[] = ['url' => $gap->url, 'box' => $visit->places['parts'][$gap->url]];
            }
        }

        return [] === $gaps ? null : ['page' => $visit->places['page'], 'gaps' => $gaps];
    }

    /** @return array<string, mixed> what is known of the clock by which the capture is dated */
    private function clock(): array
    {
        return 'system' === $this->clockSource ? MachineClock::state() : ['source' => $this->clockSource];
    }
}
