<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Shared\CurrentPerson;

/** Gives controllers the item, or the link, that the `{code}` of their route names, as far as whoever asks may see it. */
final readonly class ItemResolver implements ValueResolverInterface
{
    public function __construct(private ItemRepository $items, private ItemLinks $links, private CurrentPerson $person)
    {
    }

    /** @return list<Item|ItemLink> */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        $code = $request->attributes->getString('code');
        $viewer = $this->person->viewer();

        return match ($argument->getType()) {
            Item::class => [$this->items->byCode($viewer, $code) ?? throw new NotFoundHttpException('There is no such item.')],
            ItemLink::class => [$this->links->byCode($viewer, $code) ?? throw new NotFoundHttpException('There is no such link.')],
            default => [],
        };
    }
}
