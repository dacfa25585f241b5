<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\TerminateEvent;
use Ypomna\App\People\LoggedAct;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\TokenAccount;

/**
 * Writes down which token changed what: what a program does stands under its person's name everywhere, and here under the token, too. The
 * pieces of a file that comes in are one act, told at its end.
 */
#[AsEventListener]
final readonly class ProgramLog
{
    public function __construct(private Security $security, private PeopleLog $log)
    {
    }

    public function __invoke(TerminateEvent $event): void
    {
        [$request, $response] = [$event->getRequest(), $event->getResponse()];
        $account = $request->isMethodSafe() || !$response->isSuccessful() || !ApiPath::is($request) ? null : $this->security->getUser();
        $isPiece = 'api_upload_piece' === $request->attributes->get('_route') && 202 !== $response->getStatusCode();
        if (!$account instanceof TokenAccount || $isPiece) {
            return;
        }
        $made = $response->headers->get('Location');
        $act = $account->token->id.': '.$request->getMethod().' '.$request->getPathInfo()
            .(null === $made ? '' : ' → '.parse_url($made, \PHP_URL_PATH));
        $this->log->note(LoggedAct::ProgramActed, $account->name, '', mb_substr($act, 0, 200));
    }
}
