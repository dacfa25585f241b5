<?php

declare(strict_types=1);

namespace Ypomna\App\People\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Invitations;
use Ypomna\App\People\LoggedAct;
use Ypomna\App\People\OnceLinks;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\PeopleMail;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\SecondStep;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\Refusal;
use Ypomna\App\Shared\Role;

/** Who works and reads here, and what was done about them: for administrators. */
#[Allow(Right::Administer)]
final class PeopleController extends AbstractController
{
    public function __construct(
        private readonly PersonRepository $people,
        private readonly PersonChanges $changes,
        private readonly Invitations $invitations,
        private readonly OnceLinks $links,
        private readonly PeopleMail $mail,
        private readonly SecondStep $secondStep,
        private readonly PeopleLog $log,
    ) {
    }

    #[Route('/people', name: 'people', methods: ['GET'])]
    public function all(): Response
    {
        return $this->shown();
    }

    #[IsCsrfTokenValid('people')]
    #[Route('/people/invite', name: 'people_invite', methods: ['POST'])]
    public function invite(Actor $actor, Request $request): Response
    {
        $role = Role::tryFrom($request->request->getString('role'));
        try {
            $invitation = $this->invitations->invite(
                $actor, $role ?? throw new CannotChange('people.choose_a_role'), trim($request->request->getString('mail')),
            );
        } catch (CannotChange $e) {
            return $this->shown($e);
        }

        return $this->shown(link: $invitation->link, mailedTo: $invitation->mailedTo);
    }

    #[IsCsrfTokenValid('people')]
    #[Route('/people/{code}', name: 'person_change', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    public function change(string $code, Actor $actor, Request $request): Response
    {
        $person = $this->people->byCode($code) ?? throw $this->createNotFoundException();
        $form = $request->request;
        try {
            switch ($form->getString('act')) {
                case 'role':
                    $role = Role::tryFrom($form->getString('role')) ?? throw new CannotChange('people.choose_a_role');
                    $this->changes->setRole($actor, $person, $role);
                    break;
                case 'close':
                    $this->changes->close($actor, $person);
                    break;
                case 'open':
                    $this->changes->open($actor, $person);
                    break;
                case 'reset':
                    return $this->resetLink($actor, $person);
                case 'second-step':
                    $this->secondStep->end($actor, $person);
                    break;
                default:
                    throw $this->createNotFoundException();
            }
        } catch (CannotChange $e) {
            return $this->shown($e);
        }

        return $this->redirectToRoute('people', [], Response::HTTP_SEE_OTHER);
    }

    #[Route('/people/log', name: 'people_log', methods: ['GET'])]
    public function log(Request $request): Response
    {
        $before = $request->query->getInt('before');
        $lines = $this->log->page($before > 0 ? $before : null);

        return $this->render('people/log.html.twig', ['lines' => $lines, 'begin' => $before <= 0]);
    }

    #[Route('/people/log.csv', name: 'people_log_csv', methods: ['GET'])]
    public function logAsTable(): Response
    {
        $write = function (): void {
            echo CsvLine::of(['at', 'act', 'who', 'whom', 'detail', 'network']);
            foreach ($this->log->all() as $line) {
                echo CsvLine::of([
                    $line->at->format('Y-m-d\TH:i:s.u\Z'), $line->act->value, $line->who, $line->whom, $line->detail, $line->network,
                ]);
            }
        };

        return new StreamedResponse($write, Response::HTTP_OK, [
            'Content-Type' => 'text/csv; charset=utf-8', 'Content-Disposition' => 'attachment; filename="log.csv"',
        ]);
    }

    private function resetLink(Actor $actor, Person $person): Response
    {
        $this->log->note(LoggedAct::ResetAsked, $actor->name, $person->name);

        return $this->shown(link: $this->mail->address($this->links->reset($actor->name, $person)), linkFor: $person->name);
    }

    /**
     * @param string|null $link one that is shown this once
     * @param string|null $linkFor whose password it resets; null if it invites somebody
     */
    private function shown(?Refusal $why = null, ?string $link = null, ?string $linkFor = null, ?string $mailedTo = null): Response
    {
        return $this->render('people/people.html.twig', [
            'people' => $this->people->all(), 'roles' => Role::cases(), 'why' => $why, 'link' => $link, 'linkFor' => $linkFor,
            'mailedTo' => $mailedTo, 'sent' => $this->mail->isSent(),
        ], new Response(
            status: null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY, headers: ['Cache-Control' => 'no-store'],
        ));
    }
}
