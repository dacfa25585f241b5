<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\InPublic;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\PagePictures;
use Ypomna\App\Catalogue\Value\CapturePair;
use Ypomna\App\Compare\Comparisons;
use Ypomna\App\Compare\Value\ComparedCaptures;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Store\Store;
use Ypomna\Core\Compare\LookComparison;
use Ypomna\Core\Compare\PageRows;
use Ypomna\Core\Compare\PartComparison;
use Ypomna\Core\Compare\SourceLines;
use Ypomna\Core\Warc\WarcError;

/** Two captures as pictures, and as markup with the headers of their servers. */
#[Allow(Right::Read)]
#[InPublic]
final class AppearanceController extends AbstractController
{
    private const PAIR = ['one' => Codes::PATTERN, 'other' => Codes::PATTERN];
    /** Fields that are others with every answer. */
    private const RESTLESS = [
        'date', 'age', 'expires', 'content-length', 'set-cookie', 'cf-ray', 'x-request-id', 'x-timer', 'x-served-by', 'connection',
        'keep-alive', 'transfer-encoding',
    ];
    private const MODES = ['beside', 'slider', 'blink', 'over'];
    private const MOST_LINES = 3_000;
    private const LARGEST_TILE = 67_108_864;

    public function __construct(
        private readonly Comparisons $comparisons,
        private readonly CaptureContent $content,
        private readonly PagePictures $pictures,
        private readonly Store $store,
    ) {
    }

    #[Route('/compare/{one}/{other}/look', name: 'compare_look', requirements: self::PAIR, methods: ['GET'])]
    public function look(CapturePair $pair, Request $request): Response
    {
        $mode = $request->query->getString('as', 'beside');

        return $this->view('compare/look.html.twig', $pair, function (ComparedCaptures $compared) use ($mode): array {
            [$before, $after] = [$this->rows($compared->old), $this->rows($compared->new)];

            return [
                'as' => \in_array($mode, self::MODES, true) ? $mode : 'beside', 'modes' => self::MODES,
                'regions' => 0 === $before->width || 0 === $after->width ? null : LookComparison::of($before, $after)->regions,
                'sizes' => ['old' => [$before->width, \count($before->rows)], 'new' => [$after->width, \count($after->rows)]],
            ];
        });
    }

    #[Route('/compare/{one}/{other}/source', name: 'compare_source', requirements: self::PAIR, methods: ['GET'])]
    public function source(CapturePair $pair): Response
    {
        return $this->view('compare/source.html.twig', $pair, function (ComparedCaptures $compared): array {
            $lines = SourceLines::of($this->content->markup($compared->old), $this->content->markup($compared->new));

            return [
                'lines' => \array_slice($lines, 0, self::MOST_LINES), 'more' => max(0, \count($lines) - self::MOST_LINES),
                'headers' => PartComparison::fields(
                    $this->content->headers($compared->old), $this->content->headers($compared->new), self::RESTLESS,
                ),
            ];
        });
    }

    /** @param callable(ComparedCaptures): array<string, mixed> $more */
    private function view(string $template, CapturePair $pair, callable $more): Response
    {
        [$old, $new] = [$pair->old, $pair->new];
        try {
            $compared = $this->comparisons->between($old, $new);

            return $this->render(
                $template,
                [
                    'old' => $old, 'new' => $new, 'comparison' => $compared->report->comparison, 'report' => $compared->report,
                ] + $more($compared),
            );
        } catch (WarcError $e) {
            return $this->render(
                'compare/unreadable.html.twig',
                ['old' => $old, 'new' => $new, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_CONFLICT),
            );
        }
    }

    private function rows(Capture $capture): PageRows
    {
        return PageRows::of((function () use ($capture): \Generator {
            foreach ($this->pictures->offsets($capture) as $offset) {
                $bytes = '';
                foreach ($this->store->record($capture->warcFile->path, $offset)->block() as $piece) {
                    $bytes .= $piece;
                    if (\strlen($bytes) > self::LARGEST_TILE) {
                        return;
                    }
                }
                yield $bytes;
            }
        })());
    }
}
