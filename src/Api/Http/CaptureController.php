<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\CaptureFacts;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Value\CaptureManner;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureForm;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Extent;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;

/** Pages are captured, and captures are told of. */
#[AsController]
#[Allow(Right::Read)]
final readonly class CaptureController
{
    private const LONGEST_ADDRESS = 8_192;
    private const LONGEST_TITLE = 1_000;
    private const LONGEST_WHY = 10_000;
    private const MOST_TAGS = 50;
    private const LONGEST_TAG = 200;

    public function __construct(
        private CaptureRequests $requests,
        private CaptureRepository $captures,
        private CaptureDescriptions $descriptions,
        private CaptureLimits $limits,
        private CaptureFacts $facts,
        private ChosenDossier $dossiers,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/captures', name: 'api_capture', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function keep(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $url = $fields->text('url', self::LONGEST_ADDRESS, false);
        if (null === $url && !$fields->isWrong()) {
            $fields->wrong('url', 'The address of a page is wanted.');
        }
        $options = $this->options($fields);
        $description = new CaptureDescription(
            $fields->text('title', self::LONGEST_TITLE) ?? '', $fields->text('why', self::LONGEST_WHY) ?? '',
            $fields->texts('tags', self::MOST_TAGS, self::LONGEST_TAG) ?? [],
        );
        $dossier = $fields->text('dossier', 16);
        if (null !== $dossier && !$this->dossiers->mayLayInto($viewer, $dossier)) {
            $fields->wrong('dossier', $this->translator->trans('desk.no_such_dossier'));
        }
        [$due, $confidential] = [$fields->day('due'), $fields->bool('confidential') ?? false];
        $fields->done();
        try {
            $job = $this->requests->ask($actor, (string) $url, $options, $confidential, $dossier, $due);
        } catch (InvalidAddress $e) {
            $fields->wrong('url', $e->getMessage());
            $fields->done();
            throw new \LogicException('What is wrong was told.', 0, $e);
        }
        if ('' !== $description->title.$description->why || [] !== $description->tags) {
            $this->descriptions->write($actor, $job, $description);
        }

        return Answers::json(
            ['job' => $job->code, 'state' => 'waiting'], 202,
            ['Location' => $this->urls->generate('api_job', ['code' => $job->code])],
        );
    }

    #[Needs(Scope::Read)]
    #[Route('/api/jobs/{code}', name: 'api_job', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function job(Viewer $viewer, CaptureJob $job): JsonResponse
    {
        $capture = null === $job->captureCode ? null : $this->captures->byCode($viewer, $job->captureCode)?->code;

        return Answers::json([
            'job' => $job->code, 'state' => self::state($job), 'stage' => $job->stage->value, 'url' => $job->url, 'capture' => $capture,
            'item' => null, 'verdict' => $job->verdict, 'reason' => $job->reason, 'due' => $job->due?->format('Y-m-d'),
        ]);
    }

    #[Needs(Scope::Read)]
    #[Route('/api/captures/{code}', name: 'api_capture_facts', requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function facts(Viewer $viewer, Capture $capture): JsonResponse
    {
        return Answers::json($this->facts->of($viewer, $capture));
    }

    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/captures/{code}', name: 'api_capture_change', requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['PATCH'])]
    public function change(Actor $actor, Viewer $viewer, Capture $capture, Request $request): JsonResponse
    {
        if (!$this->limits->maySay($viewer, $capture)) {
            throw new AccessDeniedHttpException();
        }
        Answers::mustMatch($request, $this->facts->etag($viewer, $capture));
        $fields = Fields::ofPatch($request);
        $has = $fields->has('confidential');
        $confidential = $fields->bool('confidential') ?? false;
        $fields->done();
        if ($has && $confidential !== $this->limits->isConfidential($viewer, $capture)) {
            $this->limits->say($actor, $capture, $confidential);
        }
        $now = $this->captures->byCode($viewer, $capture->code) ?? throw new NotFoundHttpException();

        return Answers::json($this->facts->of($viewer, $now));
    }

    private function options(Fields $fields): CaptureOptions
    {
        $how = $fields->one('how', CaptureManner::class);
        $extent = $fields->one('extent', Extent::class);
        $part = $fields->text('part', 1_000);
        try {
            return CaptureForm::read([
                'how' => $how->value ?? '', 'extent' => $extent->value ?? '', 'part' => $part ?? '',
            ]);
        } catch (InvalidRequest $e) {
            $fields->wrong('part', $e->trans($this->translator));

            return new CaptureOptions();
        }
    }

    private static function state(CaptureJob $job): string
    {
        return match ($job->stage) {
            CaptureStage::Listed, CaptureStage::Waiting => 'waiting',
            CaptureStage::Done => 'kept',
            CaptureStage::Failed => 'failed',
            default => 'running',
        };
    }
}
