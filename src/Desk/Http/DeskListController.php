<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Access\WithFeedKey;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\DueCalendar;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Desk\ItemTodos;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\TagReport;
use Ypomna\App\Desk\TagReportFile;
use Ypomna\App\Desk\Value\ReportForm;
use Ypomna\App\Desk\Value\UsedTag;
use Ypomna\App\Exchange\ExportFailed;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;

/** Lists over all items: their tags with what stands under each, and the to-dos of their notes. */
#[Allow(Right::Read)]
final class DeskListController extends AbstractController
{
    private const NAME = ['name' => '[^/]+'];
    private const SHOWN = 200;

    public function __construct(
        private readonly ItemTags $tags,
        private readonly ItemTodos $todos,
        private readonly ItemRepository $items,
        private readonly TagReport $report,
        private readonly TagReportFile $files,
        private readonly Parcels $parcels,
    ) {
    }

    #[Route('/tags', name: 'tags', methods: ['GET'])]
    public function tags(Viewer $viewer, Request $request): Response
    {
        $found = $this->tags->all($viewer, max(0, $request->query->getInt('after')), self::SHOWN + 1);

        return $this->render('desk/tags.html.twig', [
            'tags' => \array_slice($found, 0, self::SHOWN),
            'more' => \count($found) > self::SHOWN ? $found[self::SHOWN - 1]->tag->id : null,
        ]);
    }

    #[Route('/tags/{name}', name: 'tag', requirements: self::NAME, methods: ['GET'])]
    public function tag(Viewer $viewer, string $name): Response
    {
        return $this->shown($viewer, $this->seen($viewer, $name));
    }

    #[Allow(Right::Keep)]
    #[Route('/tags/{name}', name: 'tag_act', requirements: self::NAME, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function change(Viewer $viewer, string $name, Request $request): Response
    {
        $tag = $this->seen($viewer, $name);
        $form = $request->request;
        try {
            if ('merge' === $form->getString('act')) {
                $into = $this->tags->byName($viewer, trim($form->getString('into')));
                if (null === $into || $into->tag->id === $tag->tag->id) {
                    throw new CannotChange('desk.no_tag_called', ['name' => mb_strimwidth($form->getString('into'), 0, 60, '…')]);
                }
                $this->tags->merge($tag->tag, $into->tag);

                return $this->redirectToRoute('tag', ['name' => $into->tag->name], Response::HTTP_SEE_OTHER);
            }
            $new = trim($form->getString('name'));
            $parent = trim($form->getString('parent'));
            if ('' === $new || str_contains($new.$parent, '/') || mb_strlen($new) > 200 || mb_strlen($parent) > 200) {
                throw new CannotChange('desk.no_such_tag', ['name' => mb_strimwidth($new, 0, 60, '…')]);
            }
            $this->tags->change(
                $viewer, $tag->tag, $new, TagKind::tryFrom($form->getString('kind')), '' === $parent ? null : $parent,
            );
        } catch (CannotChange|Circle $e) {
            return $this->shown($viewer, $tag, $e);
        }

        return $this->redirectToRoute('tag', ['name' => $new], Response::HTTP_SEE_OTHER);
    }

    #[Route('/tags/{name}/report.{form}', name: 'tag_report', requirements: self::NAME + ['form' => 'html|md|csv'], methods: ['GET'])]
    public function report(Viewer $viewer, string $name, ReportForm $form): Response
    {
        $tag = $this->seen($viewer, $name)->tag;

        return Download::streamed($this->files->pieces($viewer, $tag, $form), $form->type(), $tag->name.'.'.$form->value);
    }

    /** The same on paper: a worker prints it. */
    #[Route('/tags/{name}/report.pdf', name: 'tag_report_pdf', requirements: self::NAME, methods: ['POST'])]
    #[IsCsrfTokenValid('export')]
    public function pdf(Viewer $viewer, string $name): Response
    {
        $tag = $this->seen($viewer, $name);
        [$html, $captures] = $this->files->printed($viewer, $tag->tag);
        try {
            $parcel = $this->parcels->ask(
                $viewer, new ParcelOptions($captures, [], false, ParcelOptions::PDF, document: $tag->tag->name), $html,
            );
        } catch (ExportFailed $e) {
            return $this->shown($viewer, $tag, $e);
        }

        return $this->redirectToRoute('parcel', ['code' => $parcel->code], Response::HTTP_SEE_OTHER);
    }

    /** What is due, for programs that keep calendars. */
    #[WithFeedKey]
    #[Route('/due.ics', name: 'due_calendar', methods: ['GET'])]
    public function calendar(Viewer $viewer, Request $request, DueCalendar $calendar): Response
    {
        $body = $calendar->of($viewer);
        $response = new Response($body, Response::HTTP_OK, ['Content-Type' => 'text/calendar; charset=utf-8']);
        $response->setEtag(hash('sha256', $body));
        $response->isNotModified($request);

        return $response;
    }

    #[Route('/todos', name: 'todos', methods: ['GET'])]
    public function todos(Viewer $viewer, Request $request): Response
    {
        return $this->todoList($viewer, $request);
    }

    #[Allow(Right::Keep)]
    #[Route('/todos', name: 'todo_set', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function set(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $item = $this->items->byCode($viewer, $form->getString('item'))
            ?? throw $this->createNotFoundException('There is no such item.');
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        try {
            $this->todos->set($actor, $viewer, $item, $form->getInt('line'), $form->getString('text'), '1' === $form->getString('done'));
        } catch (SomebodyWasFaster $e) {
            return $this->todoList($viewer, $request, $e);
        }

        return $this->redirectToRoute('todos', 'all' === $form->getString('show') ? ['show' => 'all'] : [], Response::HTTP_SEE_OTHER);
    }

    private function todoList(Viewer $viewer, Request $request, ?TranslatableInterface $why = null): Response
    {
        $all = 'all' === $request->query->getString('show');
        $after = array_map(intval(...), explode('.', $request->query->getString('after', '0.0'), 2)) + [0, 0];
        $found = $this->todos->all($viewer, $all ? null : true, [$after[0], $after[1]], self::SHOWN + 1);
        $last = \count($found) > self::SHOWN ? $found[self::SHOWN - 1] : null;

        return $this->render('desk/todos.html.twig', [
            'todos' => \array_slice($found, 0, self::SHOWN), 'all' => $all, 'why' => $why,
            'more' => null === $last ? null : $last->itemId.'.'.$last->line,
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_CONFLICT));
    }

    private function shown(Viewer $viewer, UsedTag $tag, ?TranslatableInterface $why = null): Response
    {
        return $this->render('desk/tag.html.twig', [
            'tag' => $tag, 'groups' => $this->report->of($viewer, $tag->tag), 'why' => $why,
            'kinds' => array_map(static fn (TagKind $kind): string => $kind->value, TagKind::cases()),
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    private function seen(Viewer $viewer, string $name): UsedTag
    {
        return $this->tags->byName($viewer, $name) ?? throw $this->createNotFoundException('There is no such tag.');
    }
}
