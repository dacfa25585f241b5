<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Http;

use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\ReaderZone;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\HookCaller;
use Ypomna\App\Watch\InvalidWatch;
use Ypomna\App\Watch\Value\SettingsWish;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\App\Watch\WatchedPages;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\App\Watch\WatchSettingsRepository;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Core\Recurrence\InvalidCondition;

use function Symfony\Component\Translation\t;

/** Pages that are checked again by themselves. */
#[Allow(Right::Read)]
final class WatchController extends AbstractController
{
    public function __construct(
        private readonly WatchRequests $watches,
        private readonly WatchedPages $pages,
        private readonly WatchEvents $events,
        private readonly WatchSettingsRepository $settings,
        private readonly ReaderZone $zone,
        private readonly ClockInterface $clock,
        private readonly HookCaller $hooks,
    ) {
    }

    #[Route('/watches', name: 'watches', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): Response
    {
        return $this->list(
            $viewer, ['target' => $request->query->getString('of'), 'scope' => $request->query->getString('scope', 'address')],
        );
    }

    #[Allow(Right::Keep)]
    #[Route('/watches', name: 'watch_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('watch')]
    public function begin(Actor $actor, Viewer $viewer, Request $request): Response
    {
        try {
            $form = $this->read($request, null);
        } catch (InvalidWatch $e) {
            return $this->list($viewer, $request->request->all(), $e);
        } catch (InvalidCondition $e) {
            return $this->list($viewer, $request->request->all(), $e->getMessage());
        }
        $watch = $this->watches->begin($actor, $viewer, $form);

        return $this->redirectToRoute('watch', ['code' => $watch->code], Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Keep)]
    #[Route('/watches/settings', name: 'watch_settings', methods: ['POST'])]
    #[IsCsrfTokenValid('watch')]
    public function settings(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $budget = $form->getString('budget');
        $wish = new SettingsWish(
            is_numeric($budget) ? (float) $budget : 0.0, trim($form->getString('mail_to')), $form->getString('digest_at'),
            $form->getString('quiet_from'), $form->getString('quiet_to'), $this->zone->zone()->getName(),
        );
        foreach ($wish->faults() as $fault) {
            return $this->list($viewer, [], t($fault));
        }
        $this->settings->set($actor, $wish);

        return $this->redirectToRoute('watches', ['_fragment' => 'settings'], Response::HTTP_SEE_OTHER);
    }

    #[Route('/watches/{code}', name: 'watch', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, string $code, Request $request): Response
    {
        return $this->shown($viewer, $this->found($viewer, $code), $request);
    }

    #[Allow(Right::Keep)]
    #[Route('/watches/{code}', name: 'watch_change', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('watch')]
    public function change(Actor $actor, Viewer $viewer, string $code, Request $request, EventDispatcherInterface $events): Response
    {
        $watch = $this->found($viewer, $code);
        switch ($request->request->getString('act')) {
            case 'pause':
                $this->watches->move($watch, WatchState::Paused);
                break;
            case 'go-on':
                $this->watches->move($watch, WatchState::Running);
                break;
            case 'end':
                $this->watches->move($watch, WatchState::Ended);
                break;
            case 'now':
                $this->pages->hurry($watch, $this->clock->now());
                break;
            case 'save':
                $request->request->set('scope', $watch->scope->value);
                $request->request->set('target', $watch->target);
                try {
                    $form = $this->read($request, $watch->hookUrl);
                } catch (InvalidWatch $e) {
                    return $this->shown($viewer, $watch, $request, $e);
                } catch (InvalidCondition $e) {
                    return $this->shown($viewer, $watch, $request, $e->getMessage());
                }
                $this->watches->change($watch, $form);
                break;
            default:
                throw $this->createNotFoundException('There is no such thing to do with a watch.');
        }
        $events->dispatch(new SettingChanged($actor, 'watch '.$request->request->getString('act').': '.$watch->name));

        return $this->redirectToRoute('watch', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    /**
     * @param string|null $hook the one that was set before
     *
     * @throws InvalidWatch|InvalidCondition
     */
    private function read(Request $request, ?string $hook): WatchWish
    {
        $form = WatchForm::read($request->request, $this->zone->zone());
        if (null !== $form->hookUrl && $form->hookUrl !== $hook) {
            $this->hooks->judge($form->hookUrl);
        }

        return $form;
    }

    private function shown(Viewer $viewer, Watch $watch, Request $request, string|TranslatableInterface|null $why = null): Response
    {
        $after = max(0, $request->query->getInt('after'));

        return $this->render('watch/watch.html.twig', [
            'watch' => $watch, 'pages' => $this->pages->pages($watch, $after), 'counts' => $this->pages->counts($watch),
            'events' => $this->events->events($viewer, $watch, 0, false, 20), 'settings' => $this->settings->read(), 'after' => $after,
            'page_size' => WatchedPages::PAGE, 'kinds' => ConditionKind::cases(), 'why' => $why,
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    /** @param array<string, mixed> $given */
    private function list(Viewer $viewer, array $given, string|TranslatableInterface|null $why = null): Response
    {
        $watches = $this->watches->newest($viewer);

        return $this->render('watch/watches.html.twig', [
            'watches' => $watches,
            'counts' => $this->pages->countsOf(array_map(static fn (Watch $watch): int => (int) $watch->id, $watches)), 'given' => $given,
            'why' => $why, 'settings' => $this->settings->read(), 'kinds' => ConditionKind::cases(),
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    private function found(Viewer $viewer, string $code): Watch
    {
        return $this->watches->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such watch.');
    }
}
