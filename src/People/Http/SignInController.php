<?php

declare(strict_types=1);

namespace Ypomna\App\People\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Access\Right;
use Ypomna\App\People\Account;
use Ypomna\App\People\Attempts;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\DemoPeople;
use Ypomna\App\People\Message\SendReset;
use Ypomna\App\People\OnceLinks;
use Ypomna\App\People\PeopleMail;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\SignIn;
use Ypomna\App\People\TooManyAttempts;
use Ypomna\App\People\Value\LinkKind;
use Ypomna\App\Shared\Refusal;
use Ypomna\Core\Account\LocalTarget;

/** The door: signing in and out, and the links that let somebody in once. */
final class SignInController extends AbstractController
{
    public function __construct(
        private readonly SignIn $signIn,
        private readonly PersonRepository $people,
        private readonly PeopleMail $mail,
        private readonly DemoPeople $demo,
    ) {
    }

    #[OpenToAnybody]
    #[Route('/sign-in', name: 'sign_in', methods: ['GET'])]
    public function form(Request $request): Response
    {
        $to = LocalTarget::of($request->query->getString('to')) ?? '/';

        return $this->getUser() instanceof Account ? $this->redirect($to) : $this->shown($to, '', null, $request->query->getString('said'));
    }

    #[OpenToAnybody]
    #[IsCsrfTokenValid('sign-in')]
    #[Route('/sign-in', name: 'sign_in_try', methods: ['POST'])]
    public function password(Request $request): Response
    {
        $form = $request->request;
        $to = LocalTarget::of($form->getString('to')) ?? '/';
        $name = $form->getString('name');
        try {
            $isIn = $this->signIn->byPassword($request, $name, $form->getString('password'), $to);
        } catch (TooManyAttempts|CannotChange $e) {
            return self::refused($this->shown($to, $name, $e), $e);
        }

        return $this->redirect($isIn ? $to : $this->generateUrl('sign_in_code'), Response::HTTP_SEE_OTHER);
    }

    #[OpenToAnybody]
    #[Route('/sign-in/code', name: 'sign_in_code', methods: ['GET'])]
    public function codeForm(Request $request): Response
    {
        return null === $this->signIn->half($request)
            ? $this->redirectToRoute('sign_in', ['said' => 'late']) : $this->render('people/code.html.twig', ['why' => null]);
    }

    #[OpenToAnybody]
    #[IsCsrfTokenValid('sign-in')]
    #[Route('/sign-in/code', name: 'sign_in_code_try', methods: ['POST'])]
    public function code(Request $request): Response
    {
        $person = $this->signIn->half($request);
        if (null === $person) {
            return $this->redirectToRoute('sign_in', ['said' => 'late'], Response::HTTP_SEE_OTHER);
        }
        try {
            $to = $this->signIn->byCode($request, $person, $request->request->getString('code'));
        } catch (TooManyAttempts|CannotChange $e) {
            return self::refused($this->render('people/code.html.twig', ['why' => $e]), $e);
        }

        return $this->redirect($to, Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Read)]
    #[IsCsrfTokenValid('sign-out')]
    #[Route('/sign-out', name: 'sign_out', methods: ['POST'])]
    public function out(): Response
    {
        $account = $this->getUser();
        if ($account instanceof Account) {
            $this->signIn->out($account);
        }

        return $this->redirectToRoute('sign_in', ['said' => 'out'], Response::HTTP_SEE_OTHER);
    }

    #[OpenToAnybody]
    #[Route('/sign-in/forgotten', name: 'sign_in_forgotten', methods: ['GET'])]
    public function forgotten(): Response
    {
        return $this->render('people/forgotten.html.twig', ['why' => null, 'asked' => false, 'sent' => $this->mail->isSent()]);
    }

    #[OpenToAnybody]
    #[IsCsrfTokenValid('sign-in')]
    #[Route('/sign-in/forgotten', name: 'sign_in_forgotten_ask', methods: ['POST'])]
    public function ask(Request $request, Attempts $attempts, MessageBusInterface $bus): Response
    {
        try {
            $attempts->reset((string) $request->getClientIp());
        } catch (TooManyAttempts $e) {
            $page = $this->render('people/forgotten.html.twig', ['why' => $e, 'asked' => false, 'sent' => $this->mail->isSent()]);

            return self::refused($page, $e);
        }
        $typed = mb_scrub(mb_substr(trim($request->request->getString('name')), 0, 200));
        if ('' !== $typed) {
            // A worker finds out whether it is anybody's: here it takes the same time for every name.
            $bus->dispatch(new SendReset($typed));
        }

        return $this->render('people/forgotten.html.twig', ['why' => null, 'asked' => true, 'sent' => $this->mail->isSent()]);
    }

    #[OpenToAnybody]
    #[Route('/sign-in/link/{key}', name: 'sign_in_link', requirements: ['key' => OnceLinks::KEY], methods: ['GET'])]
    public function link(string $key, OnceLinks $links): Response
    {
        return $this->linkPage($key, $links, null, '');
    }

    #[OpenToAnybody]
    #[IsCsrfTokenValid('sign-in')]
    #[Route('/sign-in/link/{key}', name: 'sign_in_link_use', requirements: ['key' => OnceLinks::KEY], methods: ['POST'])]
    public function useLink(string $key, Request $request, OnceLinks $links, PersonChanges $changes): Response
    {
        $link = $links->find($key);
        $name = $request->request->getString('name');
        if (null === $link) {
            return $this->linkPage($key, $links, null, '');
        }
        $password = $request->request->getString('password');
        try {
            if (LinkKind::Reset === $link->kind) {
                $changes->resetPassword($link, $password);

                // It proves the mail box alone; the second step is asked for as ever.
                return $this->redirectToRoute('sign_in', ['said' => 'changed'], Response::HTTP_SEE_OTHER);
            }
            $this->signIn->letIn($changes->join($link, $name, $password));
        } catch (CannotChange $e) {
            return self::refused($this->linkPage($key, $links, $e, $name), $e);
        }

        return $this->redirectToRoute('first', [], Response::HTTP_SEE_OTHER);
    }

    /** The demo's address lets whoever has it in as its investigator. */
    #[OpenToAnybody]
    #[Route('/sign-in/demo/{key}', name: 'sign_in_demo', requirements: ['key' => '[0-9a-f]{40}'], methods: ['GET'])]
    public function demo(string $key): Response
    {
        $person = $this->demo->isKey($key) ? $this->people->named($this->demo->investigator()) : null;
        if (null === $person || $person->isClosed()) {
            throw $this->createNotFoundException();
        }
        if (!$this->getUser() instanceof Account) {
            $this->signIn->letIn($person);
        }

        return $this->redirectToRoute('first', [], Response::HTTP_SEE_OTHER);
    }

    private function linkPage(string $key, OnceLinks $links, ?Refusal $why, string $name): Response
    {
        $link = $links->find($key);
        if (null === $link) {
            return $this->render('people/link_over.html.twig', response: new Response('', Response::HTTP_GONE));
        }

        return $this->render('people/link.html.twig', [
            'link' => $link, 'name' => $name, 'why' => $why,
            'whose' => null === $link->person ? null : $this->people->byId($link->person)?->name,
        ]);
    }

    private function shown(string $to, string $name, ?Refusal $why, string $said = ''): Response
    {
        return $this->render('people/sign_in.html.twig', [
            'to' => $to, 'name' => $name, 'why' => $why, 'said' => \in_array($said, ['out', 'late', 'changed'], true) ? $said : null,
            'demo' => $this->demo->all(), 'nobody' => !$this->people->hasAny(), 'sent' => $this->mail->isSent(),
        ]);
    }

    private static function refused(Response $page, Refusal $why): Response
    {
        if ($why instanceof TooManyAttempts) {
            $page->headers->set('Retry-After', (string) $why->seconds);

            return $page->setStatusCode(Response::HTTP_TOO_MANY_REQUESTS);
        }

        return $page->setStatusCode(Response::HTTP_UNPROCESSABLE_ENTITY);
    }
}
