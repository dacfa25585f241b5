<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTodos;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Value\ItemTodo;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Todos;

/** What is to be done, as notes say it. */
#[AsController]
#[Allow(Right::Read)]
final readonly class TodoController
{
    public function __construct(private ItemTodos $todos, private ItemRepository $items, private UrlGeneratorInterface $urls)
    {
    }

    #[Told('Lists the to-dos of all notes.', body: 'Todos', query: [
        'limit' => Told::LIST['limit'], 'after' => Told::LIST['after'], 'open' => 'true: those that are not done; false: those that are.',
    ])]
    #[Needs(Scope::Read)]
    #[Route('/api/todos', name: 'api_todos', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $open = match ($request->query->all()['open'] ?? null) {
            null, '' => null, 'true' => true, 'false' => false, default => throw new BadRequestHttpException(),
        };
        $after = $request->query->all()['after'] ?? '0.0';
        if (!\is_string($after) || 1 !== preg_match('/^(\d{1,18})\.(\d{1,9})$/D', $after, $m)) {
            throw new BadRequestHttpException();
        }
        $found = $this->todos->all($viewer, $open, [(int) $m[1], (int) $m[2]], $most + 1);

        return Answers::list(array_map(self::told(...), $found), $most, fn (): string => $this->urls->generate('api_todos', [
            'after' => $found[$most - 1]->itemId.'.'.$found[$most - 1]->line, 'limit' => $most,
        ] + (null === $open ? [] : ['open' => $open ? 'true' : 'false']), UrlGeneratorInterface::ABSOLUTE_URL));
    }

    #[Told('Ticks the box of a to-do, or takes the tick away; conflict if that line says something else by now.', body: 'Todo',
        takes: 'TodoChange', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/todos', name: 'api_todo', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function set(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $code = $fields->text('item', 20, false);
        $line = $fields->number('line');
        $text = $fields->text('text', Todos::LONGEST, false);
        $done = $fields->bool('done');
        $item = null === $code ? null : $this->items->byCode($viewer, $code);
        foreach (['item' => $item, 'line' => $line, 'text' => $text, 'done' => $done] as $name => $value) {
            if (null === $value && !$fields->isWrong()) {
                $fields->wrong($name, 'item' === $name ? 'There is no such item.' : 'This is wanted: item, line, text and done.');
            }
        }
        $fields->done();
        if (null === $item || null === $line || null === $text || null === $done) {
            throw InvalidFields::at('', 'This is wanted: item, line, text and done.');
        }
        if (!$this->items->mayChange($viewer, $item)) {
            throw new AccessDeniedHttpException();
        }
        try {
            $this->todos->set($actor, $viewer, $item, $line, $text, $done);
        } catch (SomebodyWasFaster) {
            throw new ConflictHttpException();
        }

        return Answers::json(['item' => $item->code, 'text' => $text, 'line' => $line, 'done' => $done]);
    }

    /** @return array<string, mixed> */
    private static function told(ItemTodo $one): array
    {
        return ['item' => $one->item, 'text' => $one->text, 'line' => $one->line, 'done' => $one->done];
    }
}
