<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;

/** Every address that is none of ours: whoever has not signed in is told of no more than the door. */
#[Allow(Right::Read)]
final class NothingController extends AbstractController
{
    #[Route('/{path}', name: 'nothing', requirements: ['path' => '.+'], priority: -1_000)]
    public function nothing(): Response
    {
        throw $this->createNotFoundException();
    }
}
