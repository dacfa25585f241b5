<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\TerminateEvent;
use Ypomna\App\People\LoggedAct;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\TokenAccount;
use Ypomna\App\Shared\Codes;

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
        // Who reads the log may not see what it was done to.
        $path = (string) preg_replace('~/'.Codes::PATTERN.'(?=/|$)~', '/…', $request->getPathInfo());
        $this->log->note(
            LoggedAct::ProgramActed, $account->name, '', mb_substr($account->token->id.': '.$request->getMethod().' '.$path, 0, 200),
        );
    }
}
