<?php

declare(strict_types=1);

namespace Ypomna\App\People\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\People\Account;
use Ypomna\App\People\Attempts;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\LoggedAct;
use Ypomna\App\People\Passwords;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\QrPicture;
use Ypomna\App\People\SecondStep;
use Ypomna\App\People\Sessions;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\TooManyAttempts;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Languages;
use Ypomna\App\Shared\Refusal;
use Ypomna\Core\Account\Base32;
use Ypomna\Core\Account\TimeBasedCode;

/** One's own page: password, second step, where one is signed in. */
#[Allow(Right::Read)]
final class OwnPageController extends AbstractController
{
    /** In the session: a secret that the telephone has not proved to have yet. */
    private const OFFERED = 'second_step_offered';

    public function __construct(
        private readonly PersonChanges $changes,
        private readonly PersonRepository $people,
        private readonly Passwords $passwords,
        private readonly SecondStep $secondStep,
        private readonly Languages $languages,
        private readonly Sessions $sessions,
        private readonly Attempts $attempts,
        private readonly PeopleLog $log,
        private readonly Tokens $tokens,
    ) {
    }

    #[Route('/me', name: 'me', methods: ['GET'])]
    public function show(#[CurrentUser] Account $account, Request $request): Response
    {
        return $this->shown($account, said: 'password' === $request->query->getString('said'));
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/password', name: 'me_password', methods: ['POST'])]
    public function password(#[CurrentUser] Account $account, Request $request): Response
    {
        try {
            $this->attempts->password($account->name, (string) $request->getClientIp());
            $this->changes->changePassword($account, $request->request->getString('old'), $request->request->getString('password'));
            $this->attempts->succeeded($account->name, (string) $request->getClientIp());
        } catch (CannotChange|TooManyAttempts $e) {
            return $this->shown($account, $e);
        }
        $request->getSession()->migrate(true);

        return $this->redirectToRoute('me', ['said' => 'password'], Response::HTTP_SEE_OTHER);
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/zone', name: 'me_zone', methods: ['POST'])]
    public function zone(#[CurrentUser] Account $account, Request $request): Response
    {
        try {
            $this->changes->setZone($account, $request->request->getString('zone'));
        } catch (CannotChange $e) {
            return $this->shown($account, $e);
        }

        return $this->redirectToRoute('me', ['_fragment' => 'zone'], Response::HTTP_SEE_OTHER);
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/language', name: 'me_language', methods: ['POST'])]
    public function language(#[CurrentUser] Account $account, Request $request): Response
    {
        try {
            $this->changes->setLanguage($account, $request->request->getString('language'));
        } catch (CannotChange $e) {
            return $this->shown($account, $e);
        }

        return $this->redirectToRoute('me', ['_fragment' => 'language'], Response::HTTP_SEE_OTHER);
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/feed', name: 'me_feed', methods: ['POST'])]
    public function feed(#[CurrentUser] Account $account): Response
    {
        $this->changes->renewFeed($account);

        return $this->redirectToRoute('me', ['_fragment' => 'feed'], Response::HTTP_SEE_OTHER);
    }

    /** Offers a second step: a new secret, as a picture and in letters. It holds once a code has shown that it arrived. */
    #[IsCsrfTokenValid('me')]
    #[Route('/me/second-step', name: 'me_second_step', methods: ['POST'])]
    public function offer(#[CurrentUser] Account $account, Request $request): Response
    {
        try {
            $this->prove($account, $request);
        } catch (CannotChange|TooManyAttempts $e) {
            return $this->shown($account, $e);
        }
        $request->getSession()->set(self::OFFERED, bin2hex($this->secondStep->newSecret()));

        return $this->redirectToRoute('me_second_step_code', [], Response::HTTP_SEE_OTHER);
    }

    #[Route('/me/second-step', name: 'me_second_step_code', methods: ['GET'])]
    public function offered(#[CurrentUser] Account $account, Request $request, QrPicture $picture): Response
    {
        return $this->offerPage($account, $request, $picture, null);
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/second-step/begin', name: 'me_second_step_begin', methods: ['POST'])]
    public function begin(#[CurrentUser] Account $account, Request $request, QrPicture $picture): Response
    {
        $secret = $this->secret($request);
        if (null === $secret) {
            return $this->redirectToRoute('me', [], Response::HTTP_SEE_OTHER);
        }
        try {
            $codes = $this->secondStep->begin($this->changes->own($account), $secret, $request->request->getString('code'));
        } catch (CannotChange $e) {
            return $this->offerPage($account, $request, $picture, $e);
        }
        $request->getSession()->remove(self::OFFERED);
        $request->getSession()->migrate(true);

        return $this->render('people/recovery.html.twig', ['codes' => $codes], new Response(headers: ['Cache-Control' => 'no-store']));
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/second-step/end', name: 'me_second_step_end', methods: ['POST'])]
    public function end(#[CurrentUser] Account $account, Actor $actor, Request $request): Response
    {
        try {
            $this->prove($account, $request);
        } catch (CannotChange|TooManyAttempts $e) {
            return $this->shown($account, $e);
        }
        $this->secondStep->end($actor, $this->changes->own($account));

        return $this->redirectToRoute('me', ['_fragment' => 'second-step'], Response::HTTP_SEE_OTHER);
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/recovery', name: 'me_recovery', methods: ['POST'])]
    public function recovery(#[CurrentUser] Account $account, Request $request): Response
    {
        try {
            $this->prove($account, $request);
        } catch (CannotChange|TooManyAttempts $e) {
            return $this->shown($account, $e);
        }
        $person = $this->changes->own($account);
        if (null === $person->secondStep) {
            return $this->redirectToRoute('me', [], Response::HTTP_SEE_OTHER);
        }

        return $this->render(
            'people/recovery.html.twig', ['codes' => $this->secondStep->recoveryCodes($person)],
            new Response(headers: ['Cache-Control' => 'no-store']),
        );
    }

    #[IsCsrfTokenValid('me')]
    #[Route('/me/sessions', name: 'me_sessions_end', methods: ['POST'])]
    public function endSessions(#[CurrentUser] Account $account, Request $request): Response
    {
        $hash = $request->request->getString('session');
        $ended = '' === $hash ? $this->sessions->endAll($account->person, $account)
            : (int) $this->sessions->end($account->person, $hash);
        if ($ended > 0) {
            $this->log->note(LoggedAct::SessionEnded, $account->name, '', (string) $ended);
        }

        return $this->redirectToRoute('me', ['_fragment' => 'sessions'], Response::HTTP_SEE_OTHER);
    }

    /**
     * Whoever finds an open screen cannot change how its owner signs in: the password is asked for again.
     *
     * @throws CannotChange|TooManyAttempts
     */
    private function prove(Account $account, Request $request): void
    {
        $ip = (string) $request->getClientIp();
        $this->attempts->password($account->name, $ip);
        if (!$this->passwords->isRight($this->changes->own($account), $request->request->getString('password'))) {
            throw new CannotChange('people.wrong_old_password');
        }
        $this->attempts->succeeded($account->name, $ip);
    }

    private function secret(Request $request): ?string
    {
        $offered = $request->getSession()->get(self::OFFERED);
        $bytes = \is_string($offered) ? @hex2bin($offered) : false;

        return false === $bytes ? null : $bytes;
    }

    private function offerPage(Account $account, Request $request, QrPicture $picture, ?Refusal $why): Response
    {
        $secret = $this->secret($request);
        if (null === $secret) {
            return $this->redirectToRoute('me');
        }
        $address = TimeBasedCode::address('Ypomna', $account->name, $secret);

        return $this->render('people/second_step.html.twig', [
            'picture' => $picture->of($address), 'letters' => trim(chunk_split(Base32::encode($secret), 4, ' ')), 'address' => $address,
            'why' => $why,
        ], new Response(status: null === $why ? 200 : 422, headers: ['Cache-Control' => 'no-store']));
    }

    private function shown(Account $account, ?Refusal $why = null, bool $said = false): Response
    {
        $person = $this->changes->own($account);
        $status = match (true) {
            null === $why => Response::HTTP_OK,
            $why instanceof TooManyAttempts => Response::HTTP_TOO_MANY_REQUESTS,
            default => Response::HTTP_UNPROCESSABLE_ENTITY,
        };

        return $this->render('people/me.html.twig', [
            'person' => $person, 'sessions' => $this->sessions->of($account), 'left' => $this->secondStep->left($person), 'why' => $why,
            'said' => $said, 'feed' => $this->people->feedKey($person), 'zones' => \DateTimeZone::listIdentifiers(),
            'languages' => $this->languages->named(), 'tokens' => $this->tokens->of($account->person),
        ], new Response(status: $status));
    }
}
