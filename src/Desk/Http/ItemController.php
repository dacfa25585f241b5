<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Psr\Clock\ClockInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Aftermaths;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\ChangedSince;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\ItemForm;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\ItemTemplates;
use Ypomna\App\Desk\Notes;
use Ypomna\App\Desk\NoteWriting;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Ties;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Desk\Value\Knot;
use Ypomna\App\Desk\WrongValue;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Account\LocalTarget;
use Ypomna\Core\Desk\MergedNote;

/** Items: what they say, what leads to them, and what is done with one or many. */
#[Allow(Right::Read)]
final class ItemController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const UNDER = 200;

    public function __construct(
        private readonly ItemRepository $items,
        private readonly Items $changes,
        private readonly ItemLinks $links,
        private readonly ItemForm $form,
        private readonly CaptureLists $captures,
        private readonly Aftermaths $aftermaths,
        private readonly NoteWriting $writing,
        private readonly Notes $notes,
        private readonly Attachments $attachments,
        private readonly AlwaysTags $always,
        private readonly ItemTemplates $templates,
        private readonly ClockInterface $clock,
    ) {
    }

    #[Route('/items/{code}', name: 'item', requirements: self::CODE, methods: ['GET'])]
    public function one(Viewer $viewer, Item $item): Response
    {
        return $this->shown($viewer, $item);
    }

    /** What hangs together around it. */
    #[Route('/items/{code}/ties', name: 'item_ties', requirements: self::CODE, methods: ['GET'])]
    public function ties(Viewer $viewer, Item $item, Ties $ties): Response
    {
        [$knots, $found, $isMore] = $ties->around($viewer, $item);
        $named = [];
        foreach ($knots as $knot) {
            $named[$knot->code] = $knot;
        }

        return $this->render('desk/ties.html.twig', [
            'item' => $item, 'knots' => $named, 'ties' => $found, 'more' => $isMore, 'most' => Ties::MOST,
            'rows' => max(0.0, ...array_map(static fn (Knot $knot): float => $knot->row, $knots)) + 1,
        ]);
    }

    /** A note, from wherever one is. */
    #[Allow(Right::Keep)]
    #[Route('/items', name: 'item_make', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function make(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $note = ItemForm::note($form->getString('note'));
        $title = trim($form->getString('title'));
        if ('' === $title) {
            // The first line says what it is about.
            $title = trim((string) preg_replace('/^[#>*\-\s]+/u', '', explode("\n", ltrim($note), 2)[0]));
        }
        $parent = $form->getString('parent');
        $dossier = $form->getString('dossier');
        // One that waited in a browser is sent again until it is known to be here.
        $origin = 1 === preg_match('/^[0-9a-f]{16}$/D', $form->getString('key')) ? 'quick:'.$form->getString('key') : null;
        try {
            $item = null === $origin ? null : $this->items->cameBy($viewer, $origin);
            $item ??= $this->changes->make($actor, $viewer, ItemKind::Note, new ItemSubject(), new ItemChange(
                mb_substr($title, 0, Item::LONGEST_TITLE), note: $note, addTags: $this->always->of($actor->name),
                addDossiers: '' === $dossier ? [] : [$dossier],
                parent: '' === $parent ? false : $parent,
            ), $origin);
        } catch (WrongValue|Circle $e) {
            throw $this->createNotFoundException($e->getMessage(), $e);
        }
        $back = $form->getString('back');

        return $this->redirect('' === $back ? $this->generateUrl('item', ['code' => $item->code]) : LocalTarget::of($back) ?? '/',
            Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Keep)]
    #[Route('/items/{code}', name: 'item_act', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function act(Actor $actor, Viewer $viewer, Item $item, Request $request): Response
    {
        $form = $request->request;
        if ('copy' !== $form->getString('act') && !$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        $undo = '';
        $merged = null;
        try {
            switch ($form->getString('act')) {
                case 'save':
                    // What was typed is saved only upon the state that was shown.
                    if ($form->getString('state') !== $item->state) {
                        return $this->shown($viewer, $item, new SomebodyWasFaster('desk.item_was_changed'), $form->all());
                    }
                    $undo = $this->changes->change($actor, $viewer, [$item], $this->form->whole($request))[1];
                    break;
                case 'note':
                    [$merged, $undo] = $this->writing->save(
                        $actor, $viewer, $item, ItemForm::note($form->getString('base')), ItemForm::note($form->getString('note')),
                    );
                    if (!$merged->isDecided()) {
                        throw new SomebodyWasFaster('desk.same_lines_were_changed');
                    }
                    break;
                case 'answer':
                    $undo = $this->changes->change($actor, $viewer, [$item], $this->form->answer($viewer, $request, false))[1];
                    break;
                case 'field':
                    $name = trim($form->getString('name'));
                    $value = trim($form->getString('value'));
                    $undo = $this->changes->change($actor, $viewer, [$item], new ItemChange(
                        fields: [$name => '' === $value ? null : $this->form->field($item, $name, $value)],
                    ))[1];
                    break;
                case 'take-out':
                    $undo = $this->changes->change(
                        $actor, $viewer, [$item], new ItemChange(removeDossiers: [$form->getString('dossier')]),
                    )[1];
                    break;
                case 'before': case 'after':
                    $undo = $this->changes->move(
                        $actor, $viewer, $item, false, '' === $form->getString('dossier') ? null : $form->getString('dossier'),
                        $form->getString('beside'), 'before' === $form->getString('act'),
                    );
                    break;
                case 'copy':
                    $title = mb_substr(trim($form->getString('title')), 0, Item::LONGEST_TITLE);
                    $copy = $this->templates->copy($actor, $viewer, $item, '' === $title ? $item->title : $title);

                    return $this->redirectToRoute('item', ['code' => $copy->code], Response::HTTP_SEE_OTHER);
                case 'link':
                    $this->links->make(
                        $actor, $viewer, $item, self::code($form->getString('to')), null,
                        '' === trim($form->getString('remark'))
                            ? null : mb_substr(trim($form->getString('remark')), 0, ItemLink::LONGEST_REMARK),
                    );
                    break;
                case 'unlink':
                    $link = $this->links->byCode($viewer, $form->getString('link'));
                    if (null !== $link && $link->from->code === $item->code) {
                        $this->links->delete($actor, $link);
                    }
                    break;
                case 'delete':
                    $this->changes->delete($actor, $item);

                    return $this->render('desk/item_deleted.html.twig', ['item' => $item]);
                default:
                    throw $this->createNotFoundException('There is no such thing to do with an item.');
            }
        } catch (CannotChange|Circle|SomebodyWasFaster|WrongValue $e) {
            return $this->shown($viewer, $item, $e, 'save' === $form->getString('act') ? $form->all() : [], $merged);
        }

        return $this->back($request, $this->generateUrl('item', ['code' => $item->code]), $undo);
    }

    #[Route('/items/{code}/restore', name: 'item_restore', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function restore(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $item = $this->items->deleted($viewer, $code, $this->clock->now()->modify(Items::KEPT))
            ?? throw $this->createNotFoundException('There is no such item.');
        $this->changes->restore($actor, $item);

        return $this->back($request, $this->generateUrl('item', ['code' => $code]), '');
    }

    /** The same is said of all that are ticked. */
    #[Allow(Right::Keep)]
    #[Route('/items/many', name: 'items_act', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function many(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $codes = \array_slice(array_values(array_filter($request->request->all('codes'), \is_string(...))), 0, Items::MOST_AT_ONCE);
        $items = $this->items->byCodes($viewer, $codes);
        foreach ($items as $item) {
            if (!$this->items->mayChange($viewer, $item)) {
                throw $this->createAccessDeniedException();
            }
        }
        $back = LocalTarget::of($request->request->getString('back')) ?? '/';
        if ([] === $items) {
            return $this->redirect(self::with($back, ['why' => 'none']), Response::HTTP_SEE_OTHER);
        }
        try {
            $wish = $this->form->answer($viewer, $request, '1' === $request->request->getString('sorts'));
            [, $undo] = $this->changes->change($actor, $viewer, $items, $wish);
        } catch (CannotChange|SomebodyWasFaster|WrongValue $e) {
            return $this->render('desk/not_done.html.twig', ['why' => $e, 'back' => $back], new Response('', 422));
        }

        return $this->redirect(self::with($back, ['undo' => $undo]), Response::HTTP_SEE_OTHER);
    }

    /** What an act changed is put back, unless it was changed since. */
    #[Route('/undo/{code}', name: 'undo', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function undo(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $back = LocalTarget::of($request->request->getString('back')) ?? '/';
        try {
            if (null === $this->changes->undo($actor, $viewer, $code)) {
                throw $this->createNotFoundException('There is nothing to undo.');
            }
        } catch (ChangedSince $e) {
            return $this->render('desk/not_undone.html.twig', [
                'items' => $this->items->byCodes($viewer, $e->items), 'back' => $back,
            ], new Response('', Response::HTTP_CONFLICT));
        }

        return $this->redirect($back, Response::HTTP_SEE_OTHER);
    }

    /** @param array<string, mixed> $typed what was said and not saved */
    private function shown(
        Viewer $viewer,
        Item $item,
        TranslatableInterface|WrongValue|null $why = null,
        array $typed = [],
        ?MergedNote $merged = null,
    ): Response {
        $shown = $this->items->shown($viewer, [$item])[0];
        $out = $this->links->from($viewer, $item);
        $in = array_values(array_filter(
            $this->links->to($viewer, $item), static fn (ItemLink $link): bool => $link->from->code !== $item->code,
        ));
        $codes = array_values(array_filter(
            array_map(static fn (ItemLink $link): ?string => $link->toCapture, $out), static fn (?string $one): bool => null !== $one,
        ));

        return $this->render('desk/item.html.twig', [
            'shown' => $shown, 'item' => $item, 'merged' => $merged,
            'named' => $this->items->byCodes($viewer, $this->notes->leadingTo($item)), 'attachments' => $this->attachments->of($item),
            'aftermath' => null === $shown->capture ? null : $this->aftermaths->of($viewer, $shown->capture->code),
            'mayChange' => $this->items->mayChange($viewer, $item), 'why' => $why, 'typed' => $typed,
            'under' => $this->items->shown($viewer, $this->items->list($viewer, new ItemQuery(
                parent: $item->code, order: ItemOrder::Hand, most: self::UNDER,
            ))),
            'out' => $out, 'in' => $in, 'linked' => $this->captures->facts($viewer, $codes), 'fields' => $this->form->fields($item),
            'dueFor' => array_map(static fn (DueFor $one): string => $one->value, DueFor::cases()),
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    private function back(Request $request, string $usual, string $undo): RedirectResponse
    {
        $back = $request->request->getString('back');

        return $this->redirect(self::with('' === $back ? $usual : LocalTarget::of($back) ?? $usual, ['undo' => $undo]),
            Response::HTTP_SEE_OTHER);
    }

    /** @param array<string, string> $more */
    private static function with(string $path, array $more): string
    {
        [$place, $query] = explode('?', $path, 2) + [1 => ''];
        parse_str($query, $values);
        unset($values['undo'], $values['why']);
        $values = array_filter($more, static fn (string $one): bool => '' !== $one) + $values;

        return $place.([] === $values ? '' : '?'.http_build_query($values));
    }

    /** The code in what was typed: a permanent address, or an item's. */
    private static function code(string $typed): string
    {
        return 1 === preg_match('~(?:^|/(?:c|items)/)('.Codes::PATTERN.')(?:[/?#]|$)~', trim($typed), $m) ? $m[1] : '';
    }
}
