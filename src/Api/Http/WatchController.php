<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Api\WatchFields;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\EventLine;
use Ypomna\App\Watch\Value\WatchSettings;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\App\Watch\WatchedPages;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\App\Watch\WatchSettingsRepository;

/** Watches, and what they told. */
#[AsController]
#[Allow(Right::Read)]
final readonly class WatchController
{
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private WatchRequests $watches,
        private WatchedPages $pages,
        private WatchEvents $events,
        private WatchSettingsRepository $settings,
        private WatchFields $fields,
        private UrlGeneratorInterface $urls,
        private EventDispatcherInterface $dispatcher,
        private Gate $gate,
    ) {
    }

    #[Told('Lists watches, the one that was begun last first.', body: 'Watches', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/watches', name: 'api_watches', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->watches->before($viewer, Answers::after($request), $most + 1);
        $counts = $this->pages->countsOf(array_map(static fn (Watch $one): int => (int) $one->id, $found));

        return Answers::list(
            array_map(fn (Watch $one): array => $this->told($viewer, $one, $counts[(int) $one->id] ?? null), $found), $most,
            fn (): string => $this->urls->generate(
                'api_watches', ['after' => $found[$most - 1]->id, 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
            ),
        );
    }

    #[Told('Begins a watch.', 201, 'Watch', 'WatchRequest', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/watches', name: 'api_watch_begin', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function begin(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $watch = $this->watches->begin($actor, $viewer, $this->fields->wish(Fields::of($request)));

        return Answers::json($this->told($viewer, $watch), Response::HTTP_CREATED, [
            'Location' => $this->urls->generate('api_watch', ['code' => $watch->code]),
        ]);
    }

    #[Told('Tells of a watch.', body: 'Watch')]
    #[Needs(Scope::Read)]
    #[Route('/api/watches/{code}', name: 'api_watch', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, Watch $watch): JsonResponse
    {
        return Answers::json($this->told($viewer, $watch));
    }

    /** It is ended, never deleted: what it told stays. */
    #[Told('Changes a watch, pauses it, ends it, or has it go on.', body: 'Watch', takes: 'WatchChange',
        type: 'application/merge-patch+json', also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/watches/{code}', name: 'api_watch_change', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function change(Actor $actor, Viewer $viewer, Watch $watch, Request $request): JsonResponse
    {
        $watch = $this->watches->exclusively($watch, function (Watch $watch) use ($actor, $request): void {
            Answers::mustMatch($request, $this->etag($watch));
            $fields = Fields::ofPatch($request);
            $state = $fields->one('state', WatchState::class);
            $this->watches->change($watch, $this->fields->wish($fields, $watch));
            if (null !== $state) {
                $this->watches->move($watch, $state);
            }
            $this->dispatcher->dispatch(new SettingChanged($actor, 'watch save: '.$watch->name));
        });

        return Answers::json($this->told($viewer, $watch));
    }

    #[Told('Tells what holds for all watches.', body: 'WatchSettings')]
    #[Needs(Scope::Read, Right::Keep)]
    #[Route('/api/watches/settings', name: 'api_watch_settings', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function settings(): JsonResponse
    {
        return Answers::json($this->toldSettings($this->settings->read()));
    }

    #[Told('Changes what holds for all watches.', body: 'WatchSettings', takes: 'WatchSettingsChange',
        type: 'application/merge-patch+json', also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/watches/settings', name: 'api_watch_settings_change', defaults: FetchMetadataGuard::OPEN, methods: ['PATCH'])]
    public function changeSettings(Actor $actor, Request $request): JsonResponse
    {
        $settings = $this->settings->exclusively(function (WatchSettings $now) use ($actor, $request): void {
            $told = $this->toldSettings($now);
            Answers::mustMatch($request, \is_string($told['etag']) ? $told['etag'] : '');
            $this->settings->set($actor, $this->fields->settings(Fields::ofPatch($request), $now));
        });

        return Answers::json($this->toldSettings($settings));
    }

    #[Told('Lists what watches told, the latest first.', body: 'Events', query: Told::LIST + [
        'watch' => 'The code of a watch, for what that one told.',
    ])]
    #[Needs(Scope::Read)]
    #[Route('/api/events', name: 'api_events', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function events(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $code = $request->query->getString('watch');
        $watch = '' === $code ? null : $this->watches->byCode($viewer, $code) ?? throw new NotFoundHttpException();
        $found = $this->events->events($viewer, $watch, Answers::after($request), false, $most + 1);

        return Answers::list(array_map($this->event(...), $found), $most, fn (): string => $this->urls->generate(
            'api_events', ['after' => $found[$most - 1]->id, 'limit' => $most] + ('' === $code ? [] : ['watch' => $code]),
            UrlGeneratorInterface::ABSOLUTE_URL,
        ));
    }

    /** @return array<string, mixed> */
    private function event(EventLine $event): array
    {
        return [
            'id' => $event->id, 'watch' => $event->watch, 'at' => Answers::moment($event->at), 'kind' => $event->kind->value,
            'url' => $event->url, 'before' => $event->before, 'after' => $event->after, 'more' => $event->more,
            'captureBefore' => $event->captureBefore, 'captureAfter' => $event->captureAfter,
        ];
    }

    /**
     * @param array{pages: int, gone: int, next: \DateTimeImmutable|null}|null $counts null to ask for them
     *
     * @return array<string, mixed>
     */
    private function told(Viewer $viewer, Watch $watch, ?array $counts = null): array
    {
        $counts ??= $this->pages->counts($watch);

        // Whoever has the address of a hook may be able to call it.
        return array_replace($this->state($watch), $this->gate->may($viewer, Right::Keep) ? [] : ['hookUrl' => null]) + [
            'madeAt' => Answers::moment($watch->madeAt), 'madeBy' => $watch->agent, 'pages' => $counts['pages'], 'gone' => $counts['gone'],
            'next' => Answers::moment($counts['next']), 'etag' => $this->etag($watch),
        ];
    }

    /** @return array<string, mixed> */
    private function toldSettings(WatchSettings $settings): array
    {
        $told = [
            'budget' => $settings->budget, 'mailTo' => $settings->mailTo, 'digestAt' => $settings->digestAt,
            'quietFrom' => $settings->quietFrom, 'quietTo' => $settings->quietTo, 'zone' => $settings->zone,
        ];

        return $told + ['etag' => substr(hash('sha256', json_encode($told, \JSON_THROW_ON_ERROR)), 0, 32)];
    }

    /** @return array<string, mixed> what can be changed of it */
    private function state(Watch $watch): array
    {
        return [
            'code' => $watch->code, 'scope' => $watch->scope->value, 'target' => $watch->target, 'name' => $watch->name,
            'state' => $watch->state->value, 'everyDays' => $watch->everyDays, 'keeps' => $watch->keeps, 'mails' => $watch->mails,
            'condition' => [
                'kind' => $watch->conditionKind->value, 'text' => $watch->conditionText, 'column' => $watch->conditionColumn,
            ],
            'hookUrl' => $watch->hookUrl, 'dueAt' => Answers::moment($watch->dueAt), 'dueNote' => $watch->dueNote,
        ];
    }

    private function etag(Watch $watch): string
    {
        return substr(hash('sha256', json_encode($this->state($watch), \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)), 0, 32);
    }
}
