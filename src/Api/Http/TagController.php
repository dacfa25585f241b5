<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\ItemFacts;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Desk\TagReport;
use Ypomna\App\Desk\Value\UsedTag;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Viewer;

/** The tags of items. */
#[AsController]
#[Allow(Right::Read)]
final readonly class TagController
{
    private const NAME = ['name' => '[^/]+'];

    public function __construct(private ItemTags $tags, private TagReport $report, private UrlGeneratorInterface $urls)
    {
    }

    #[Told('Lists the tags of items, as far as these are seen, with how many have each.', body: 'Tags', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/tags', name: 'api_tags', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->tags->all($viewer, Answers::after($request), $most + 1);

        return Answers::list(array_map(ItemFacts::tag(...), $found), $most, fn (): string => $this->urls->generate(
            'api_tags', ['after' => $found[$most - 1]->tag->id, 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
        ));
    }

    #[Told('Tells of a tag.', body: 'Tag')]
    #[Needs(Scope::Read)]
    #[Route('/api/tags/{name}', name: 'api_tag', requirements: self::NAME, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, string $name): JsonResponse
    {
        return Answers::json(ItemFacts::tag($this->seen($viewer, $name)));
    }

    #[Told('Renames a tag, or says what kind it is and under which it stands.', body: 'Tag', takes: 'TagChange',
        type: 'application/merge-patch+json', also: [409, 412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/tags/{name}', name: 'api_tag_change', requirements: self::NAME, defaults: FetchMetadataGuard::OPEN, methods: ['PATCH'])]
    public function change(Viewer $viewer, string $name, Request $request): JsonResponse
    {
        $tag = $this->seen($viewer, $name);
        Answers::mustMatch($request, $tag->tag->etag());
        $fields = Fields::ofPatch($request);
        $new = self::name($fields, 'name');
        $kind = $fields->has('kind') ? $fields->one('kind', TagKind::class) ?? TagKind::Own : null;
        $parent = self::name($fields, 'parent', true);
        $fields->done();
        try {
            $changed = $this->tags->change($viewer, $tag->tag, $new, $kind, $fields->has('parent') ? $parent : false);
        } catch (Circle|CannotChange) {
            throw new ConflictHttpException();
        }

        return Answers::json(ItemFacts::tag($changed ?? throw new NotFoundHttpException()));
    }

    #[Told('Makes one tag of two.', body: 'Tag', takes: 'TagMerge')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/tags/{name}/merge', name: 'api_tag_merge', requirements: self::NAME, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function merge(Viewer $viewer, string $name, Request $request): JsonResponse
    {
        $tag = $this->seen($viewer, $name);
        $fields = Fields::of($request);
        $into = self::name($fields, 'into');
        $other = null === $into ? null : $this->tags->byName($viewer, $into);
        if ((null === $other || $other->tag->id === $tag->tag->id) && !$fields->isWrong()) {
            $fields->wrong('into', 'The name of another tag is wanted.');
        }
        $fields->done();
        if (null !== $other) {
            $this->tags->merge($tag->tag, $other->tag);
        }

        return Answers::json(ItemFacts::tag($this->seen($viewer, (string) $into)));
    }

    #[Told('Lists everything under a tag, grouped by dossier.', body: 'TagReport')]
    #[Needs(Scope::Read)]
    #[Route('/api/tags/{name}/report', name: 'api_tag_report', requirements: self::NAME, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function report(Viewer $viewer, string $name): JsonResponse
    {
        $tag = $this->seen($viewer, $name);
        $groups = [];
        foreach ($this->report->of($viewer, $tag->tag) as $group) {
            $groups[] = [
                'dossier' => $group->dossier?->code, 'name' => $group->dossier?->name,
                'items' => array_map(ItemFacts::told(...), $group->items),
            ];
        }

        return Answers::json(['tag' => $tag->tag->name, 'groups' => $groups]);
    }

    private function seen(Viewer $viewer, string $name): UsedTag
    {
        return $this->tags->byName($viewer, $name) ?? throw new NotFoundHttpException();
    }

    private static function name(Fields $fields, string $field, bool $mayBeNull = false): ?string
    {
        $name = $fields->text($field, Tags::LONGEST, $mayBeNull);
        if (null !== $name && ('' === trim($name) || str_contains($name, '/'))) {
            $fields->wrong($field, 'A tag has a name without "/".');
        }

        return null === $name ? null : trim($name);
    }
}
