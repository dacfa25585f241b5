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
use Ypomna\App\Api\CaptureWish;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Api\Value\CaptureManner;
use Ypomna\App\Api\Value\ToldJob;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureForm;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Exchange\Value\ArrivalState;
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

    public function __construct(
        private CaptureRequests $requests,
        private CaptureRepository $captures,
        private CaptureDescriptions $descriptions,
        private CaptureLimits $limits,
        private CaptureFacts $facts,
        private ChosenDossier $dossiers,
        private ItemRepository $items,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Has a page captured.', 202, 'Begun', 'CaptureRequest', also: [409])]
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
        $wish = CaptureWish::of($viewer, $fields, $this->dossiers, $this->translator);
        $fields->done();
        try {
            $job = $this->requests->ask($actor, (string) $url, $options, $wish->confidential, $wish->dossier, $wish->due);
        } catch (InvalidAddress $e) {
            $fields->wrong('url', $e->getMessage());
            $fields->done();
            throw new \LogicException('What is wrong was told.', 0, $e);
        }
        if (!$wish->description->isEmpty()) {
            $this->descriptions->write($actor, $job, $wish->description);
        }

        return Answers::json(
            ['job' => $job->code, 'state' => 'waiting'], 202,
            ['Location' => $this->urls->generate('api_job', ['code' => $job->code])],
        );
    }

    #[Told('Tells how far work is: a capture, or a file that is taken in.', body: 'Job')]
    #[Needs(Scope::Read)]
    #[Route('/api/jobs/{code}', name: 'api_job', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function job(Viewer $viewer, ToldJob $told): JsonResponse
    {
        $job = $told->job;
        $capture = null === $job->captureCode ? null : $this->captures->byCode($viewer, $job->captureCode);
        [$state, $stage, $url, $verdict, $reason, $due] = $job instanceof CaptureJob
            ? [self::state($job->stage), $job->stage->value, $job->url, $job->verdict, $job->reason, $job->due?->format('Y-m-d')]
            : [
                self::arrived($job->state), $job->state->value, $capture->url ?? $job->said()->url, $capture?->verdict,
                ArrivalState::Refused === $job->state ? 'refused' : null, $job->said()->due,
            ];

        return Answers::json([
            'job' => $job->code, 'state' => $state, 'stage' => $stage, 'url' => $url, 'capture' => $capture?->code,
            'item' => $this->items->cameBy($viewer, ($job instanceof CaptureJob ? 'job:' : 'file:').$job->code)->code
                ?? $this->items->cameBy($viewer, 'job:'.$job->code)?->code,
            'verdict' => $verdict, 'reason' => $reason, 'due' => $due,
        ]);
    }

    #[Told('Tells what is known of a capture.', body: 'Capture')]
    #[Needs(Scope::Read)]
    #[Route('/api/captures/{code}', name: 'api_capture_facts', requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function facts(Viewer $viewer, Capture $capture): JsonResponse
    {
        return Answers::json($this->facts->of($viewer, $capture));
    }

    #[Told(
        'Says whether a capture is confidential.', body: 'Capture', takes: 'CaptureChange', type: 'application/merge-patch+json',
        also: [412, 428],
    )]
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

    private static function state(CaptureStage $stage): string
    {
        return match ($stage) {
            CaptureStage::Listed, CaptureStage::Waiting => 'waiting',
            CaptureStage::Done => 'kept',
            CaptureStage::Failed => 'failed',
            default => 'running',
        };
    }

    private static function arrived(ArrivalState $state): string
    {
        return match ($state) {
            ArrivalState::Coming, ArrivalState::Waiting => 'waiting',
            ArrivalState::Refused => 'failed',
            default => 'kept',
        };
    }
}
