<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\RequestStack;

/** Who reads and who acts: the installation's one person. What no request asks for is read by the system. */
final readonly class CurrentPerson
{
    public function __construct(private RequestStack $requests, #[Autowire('%env(PERSON_NAME)%')] private string $name)
    {
    }

    public function viewer(): Viewer
    {
        return null === $this->requests->getCurrentRequest() ? Viewer::system() : Viewer::person($this->name);
    }

    public function actor(): Actor
    {
        return new Actor($this->name);
    }
}
