<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;

/**
 * Who reads and who acts: whoever has signed in. What no request asks for is read by the system, and done under the installation’s name.
 */
final readonly class CurrentPerson
{
    /** The attribute of a request that has who reads, where a key has told it. */
    public const READER = '_reader';

    public function __construct(
        private RequestStack $requests,
        private TokenStorageInterface $tokens,
        #[Autowire('%env(PERSON_NAME)%')] private string $name,
    ) {
    }

    public function viewer(): Viewer
    {
        return $this->signedIn()?->viewer() ?? (null === $this->requests->getCurrentRequest() ? Viewer::system() : Viewer::nobody());
    }

    /** @throws \LogicException in a request of somebody who has not signed in: the gate is to be asked before */
    public function actor(): Actor
    {
        return $this->signedIn()?->actor() ?? (null === $this->requests->getCurrentRequest()
            ? new Actor($this->name)
            : throw new \LogicException('Nobody has signed in, so nobody can act.'));
    }

    /** The zone that they chose; null if they have not, or nobody has signed in. */
    public function zone(): ?string
    {
        return $this->signedIn()?->zone();
    }

    /** The language that they chose; null if they have not, or nobody has signed in. */
    public function language(): ?string
    {
        return $this->signedIn()?->language();
    }

    private function signedIn(): ?SignedIn
    {
        $user = $this->tokens->getToken()?->getUser();

        return $user instanceof SignedIn ? $user : null;
    }
}
