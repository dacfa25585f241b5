<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\CurrentPerson;

/**
 * Gives controllers the capture or the address that the `{code}` of their route names, as far as whoever asks may see it. What they
 * may not see is not there. An argument of another name takes the code from the route's parameter of that name.
 */
final readonly class HoldingsResolver implements ValueResolverInterface
{
    private const USUAL = ['capture', 'address'];

    public function __construct(private CaptureRepository $captures, private AddressRepository $addresses, private CurrentPerson $person)
    {
    }

    /** @return list<Capture|Address> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        $type = $argument->getType();
        if (Capture::class !== $type && Address::class !== $type) {
            return [];
        }
        $code = $request->attributes->get(\in_array($argument->getName(), self::USUAL, true) ? 'code' : $argument->getName());
        $viewer = $this->person->viewer();
        $found = \is_string($code)
            ? (Capture::class === $type ? $this->captures->byCode($viewer, $code) : $this->addresses->byCode($viewer, $code))
            : null;

        return [
            $found ?? throw new NotFoundHttpException(
                Capture::class === $type ? 'There is no capture at this permanent address.' : 'There is no such address in the catalogue.',
            ),
        ];
    }
}
