<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Search\EngineIsAway;
use Ypomna\App\Search\Searcher;
use Ypomna\App\Search\SearchPlaces;
use Ypomna\App\Search\SearchWishes;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Result;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Search\Value\Snippet;
use Ypomna\App\Search\Value\WordSpan;
use Ypomna\App\Search\WordLives;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Search\Question;

/** Finding by words: pages in which they ever stood, and when they stood on one. */
#[AsController]
#[Allow(Right::Read)]
final readonly class FindController
{
    private const QUERY = [
        'q' => 'What is looked for: words, "a phrase", -not this, beginning*.',
        'in' => 'everything (usual), dossier:CODE, item:CODE or address:CODE.', 'look' => 'all (usual) or descriptions.',
        'year' => 'A year in which it stood.', 'site' => 'A host, without www.', 'kind' => 'page, note, excerpt, mark, file or item.',
        'tag' => 'The name of a tag.', 'language' => 'A language, as en.', 'state' => 'What checks of the address say.',
        'fold' => 'near: pages that are much alike are one result, which says how many others; each (usual).',
        'order' => 'relevance (usual), newest, oldest, site, title.', 'limit' => 'How many: 1 to 100, 20 if it is not said.',
        'after' => 'Where the list goes on; `next` has it.',
    ];

    public function __construct(
        private Searcher $searcher,
        private SearchPlaces $places,
        private WordLives $lives,
        private AddressRepository $addresses,
        private UrlGeneratorInterface $urls,
    ) {
    }

    #[Told('Finds pages and what people wrote by their words.', body: 'Found', query: self::QUERY, also: [422, 503])]
    #[Needs(Scope::Read)]
    #[Route('/api/find', name: 'api_find', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function find(Viewer $viewer, Request $request): JsonResponse
    {
        $wish = self::wish($request);
        if (!$this->places->isThere($viewer, $wish)
            || (null !== $wish->address && null === $this->addresses->byCode($viewer, $wish->address))) {
            throw new NotFoundHttpException();
        }
        try {
            $found = $this->searcher->find($viewer, $wish);
        } catch (EngineIsAway $e) {
            throw new ServiceUnavailableHttpException(60, $e->getMessage(), $e);
        }

        return Answers::json([
            'total' => $found->total, 'exact' => $found->isExact, 'understood' => $found->understood, 'suggestion' => $found->suggestion,
            'facets' => $found->facets, 'items' => array_map($this->told(...), $found->items),
            'next' => null === $found->next ? null : $this->urls->generate(
                'api_find', ['after' => $found->next] + $request->query->all(), UrlGeneratorInterface::ABSOLUTE_URL,
            ),
        ]);
    }

    #[Told('Says when words stood on a page.', body: 'WordLife', query: ['q' => self::QUERY['q']], also: [422, 503])]
    #[Needs(Scope::Read)]
    #[Route('/api/addresses/{code}/words', name: 'api_address_words', requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function words(Viewer $viewer, string $code, Request $request): JsonResponse
    {
        $asked = self::asked($request);
        $address = $this->addresses->byCode($viewer, $code) ?? throw new NotFoundHttpException();
        try {
            $life = $this->lives->of($viewer, (int) $address->id, $asked);
        } catch (EngineIsAway $e) {
            throw new ServiceUnavailableHttpException(60, $e->getMessage(), $e);
        }

        return Answers::json([
            'q' => $asked, 'captures' => $life->captures, 'first' => Answers::moment($life->first()),
            'last' => Answers::moment($life->last()), 'spans' => array_map(static fn (WordSpan $span): array => [
                'from' => Answers::moment($span->from), 'to' => Answers::moment($span->to), 'captures' => $span->captures,
            ], $life->spans), 'absentSince' => Answers::moment($life->absentSince),
        ]);
    }

    private static function wish(Request $request): SearchWish
    {
        self::asked($request);
        try {
            return SearchWishes::of($request->query->all());
        } catch (\InvalidArgumentException $e) {
            throw new BadRequestHttpException('', $e);
        }
    }

    private static function asked(Request $request): string
    {
        $asked = $request->query->all()['q'] ?? '';
        if (!\is_string($asked)) {
            throw new BadRequestHttpException();
        }
        if (\strlen($asked) > Question::LONGEST) {
            throw InvalidFields::at('/q', \sprintf('At most %d bytes are taken.', Question::LONGEST));
        }

        return $asked;
    }

    /** @return array<string, mixed> */
    private function told(Result $result): array
    {
        return [
            'kind' => $result->kind->word(), 'code' => $result->code,
            'address' => Kind::Page === $result->kind ? $result->code : null, 'title' => $result->title,
            'near' => $result->near, 'url' => $result->url, 'site' => $result->site, 'capturedAt' => Answers::moment($result->capturedAt),
            'stood' => [
                'first' => Answers::moment($result->stood->first), 'last' => Answers::moment($result->stood->last),
                'captures' => $result->stood->captures, 'of' => $result->stood->of,
            ],
            'snippets' => array_map(static fn (Snippet $snippet): array => [
                'text' => $snippet->text, 'marks' => $snippet->marks, 'passage' => $snippet->passage < 0 ? null : $snippet->passage,
                'capture' => $result->capture, 'means' => $snippet->means->word(),
            ], $result->snippets),
            'open' => $this->urls->generate(
                null === $result->capture ? 'item' : 'read',
                ['code' => $result->capture ?? $result->code] + (null === $result->passage() ? [] : ['passage' => $result->passage()]),
                UrlGeneratorInterface::ABSOLUTE_URL,
            ),
        ];
    }
}
