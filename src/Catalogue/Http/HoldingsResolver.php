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
use Ypomna\App\Catalogue\Value\CapturePair;
use Ypomna\App\Shared\CurrentPerson;

/**
 * Gives controllers the capture or the address that the `{code}` of their route names, as far as whoever asks may see it. What they
 * may not see is not there. An argument of another name takes the code from the route's parameter of that name; a pair of captures
 * takes `{one}` and `{other}`.
 */
final readonly class HoldingsResolver implements ValueResolverInterface
{
    private const USUAL = ['capture', 'address'];

    public function __construct(private CaptureRepository $captures, private AddressRepository $addresses, private CurrentPerson $person)
    {
    }

    /** @return list<Capture|Address|CapturePair> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        $code = $request->attributes->get(\in_array($argument->getName(), self::USUAL, true) ? 'code' : $argument->getName());

        return match ($argument->getType()) {
            Capture::class => [$this->capture($code)],
            Address::class => [$this->address($code)],
            CapturePair::class => [
                CapturePair::of($this->capture($request->attributes->get('one')), $this->capture($request->attributes->get('other'))),
            ],
            default => [],
        };
    }

    private function capture(mixed $code): Capture
    {
        return (\is_string($code) ? $this->captures->byCode($this->person->viewer(), $code) : null)
            ?? throw new NotFoundHttpException('There is no capture at this permanent address.');
    }

    private function address(mixed $code): Address
    {
        return (\is_string($code) ? $this->addresses->byCode($this->person->viewer(), $code) : null)
            ?? throw new NotFoundHttpException('There is no such address in the catalogue.');
    }
}
