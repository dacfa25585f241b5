<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Ypomna\App\People\Value\Invitation;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;

/** Invites people: by a link that is told once, and mailed where there is a mail server. */
final readonly class Invitations
{
    public const LONGEST_MAIL = 190;

    public function __construct(private OnceLinks $links, private PeopleMail $mail, private PeopleLog $log)
    {
    }

    /**
     * @param string $mail '' if nothing is to be mailed
     *
     * @throws CannotChange
     */
    public function invite(Actor $actor, Role $role, string $mail): Invitation
    {
        if ('' !== $mail && (false === filter_var($mail, \FILTER_VALIDATE_EMAIL) || \strlen($mail) > self::LONGEST_MAIL)) {
            throw new CannotChange('people.no_mail', ['mail' => $mail]);
        }
        $address = $this->mail->address($this->links->invitation($actor->name, $role, '' === $mail ? null : $mail));
        $this->log->note(LoggedAct::Invited, $actor->name, '', $role->value);
        $isSent = false;
        if ('' !== $mail && $this->mail->isSent()) {
            try {
                $this->mail->invite($mail, $actor->name, $address);
                $isSent = true;
            } catch (TransportExceptionInterface) {
                // Whoever invites has the link, and is told that the mail did not go out.
            }
        }

        return new Invitation($address, $isSent ? $mail : null);
    }
}
