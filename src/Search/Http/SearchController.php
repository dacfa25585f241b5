<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Event\WordsAsked;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Search\Completions;
use Ypomna\App\Search\EngineIsAway;
use Ypomna\App\Search\Questions;
use Ypomna\App\Search\Searcher;
use Ypomna\App\Search\SearchWishes;
use Ypomna\App\Search\Value\LifeDrawing;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Search\WordLives;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Search\Finds;
use Ypomna\Core\Search\Question;
use Ypomna\Core\Search\Writing;
use Ypomna\Core\Warc\WarcError;

/** What was found by its words, and when words stood on a page. */
#[Allow(Right::Read)]
final class SearchController extends AbstractController
{
    private const MOST_FORMS = 300;

    public function __construct(
        private readonly Searcher $searcher,
        private readonly WordLives $lives,
        private readonly AddressRepository $addresses,
        private readonly DossierRepository $dossiers,
        private readonly ItemRepository $items,
        private readonly CaptureContent $content,
        private readonly Questions $questions,
        private readonly Completions $completions,
    ) {
    }

    /** The one box knows addresses; where words stand somewhere, it leads here. */
    #[AsEventListener]
    public function onWordsAsked(WordsAsked $event): void
    {
        if (!$this->searcher->isThere() || \strlen($event->typed) > Question::LONGEST) {
            return;
        }
        try {
            $found = $this->searcher->find($event->viewer, new SearchWish($event->typed, limit: 1));
        } catch (EngineIsAway) {
            return;
        }
        $event->leadsTo = $found->total > 0 ? 'search' : null;
        $event->offers = null !== $found->suggestion ? 'search' : null;
    }

    #[Route('/search', name: 'search', methods: ['GET'])]
    public function search(Viewer $viewer, Request $request): Response
    {
        $query = $request->query->all();
        try {
            $wish = SearchWishes::of($query + ['fold' => 'near']);
        } catch (\InvalidArgumentException) {
            return $this->redirectToRoute('search', ['q' => \is_string($query['q'] ?? null) ? $query['q'] : '']);
        }
        $values = [
            'wish' => $wish, 'orders' => array_column(Order::cases(), 'value'), 'place' => $this->place($viewer, $wish),
            'query' => array_filter($query, static fn (mixed $value): bool => \is_string($value) && '' !== $value), 'found' => null,
        ];
        $isTooLong = \strlen($wish->asked) > Question::LONGEST;
        if ($isTooLong) {
            return $this->render(
                'search/results.html.twig', ['isTooLong' => true] + $values, new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        try {
            $found = '' === trim($wish->asked) ? null : $this->searcher->find($viewer, $wish);
            if (null === $found) {
                return $this->render('search/questions.html.twig', [
                    'wish' => $wish, 'saved' => $this->questions->saved($viewer), 'last' => $this->questions->last($viewer),
                ]);
            }

            return $this->render('search/results.html.twig', [
                'found' => $found, 'question' => null === $wish->after ? $this->questions->asked($viewer, $values['query']) : null,
            ] + $values);
        } catch (EngineIsAway) {
            return $this->render('search/results.html.twig', $values, new Response('', Response::HTTP_SERVICE_UNAVAILABLE));
        }
    }

    #[Route('/address/{code}/words', name: 'address_words', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function words(Viewer $viewer, Address $address, Request $request): Response
    {
        $asked = mb_strcut(trim($request->query->getString('q')), 0, Question::LONGEST);
        try {
            $life = '' === $asked ? null : $this->lives->of($viewer, (int) $address->id, $asked);
        } catch (EngineIsAway) {
            return $this->render(
                'search/words.html.twig', ['address' => $address, 'asked' => $asked, 'life' => null, 'isAway' => true],
                new Response('', Response::HTTP_SERVICE_UNAVAILABLE),
            );
        }

        return $this->render('search/words.html.twig', [
            'address' => $address, 'asked' => $asked, 'life' => $life, 'drawing' => null === $life ? null : LifeDrawing::of($life),
        ]);
    }

    #[Route('/search/complete', name: 'search_complete', methods: ['GET'])]
    public function complete(Viewer $viewer, Request $request): Response
    {
        $typed = $request->query->all()['q'] ?? '';

        return new JsonResponse($this->completions->of($viewer, \is_string($typed) ? mb_scrub($typed) : ''));
    }

    #[Route('/search/questions', name: 'question_change', methods: ['POST'])]
    #[IsCsrfTokenValid('question')]
    public function change(Viewer $viewer, Request $request): Response
    {
        $act = $request->request->getString('act');
        parse_str($request->request->getString('of'), $query);
        $texts = [];
        foreach ($query as $name => $value) {
            if (\is_string($value)) {
                $texts[(string) $name] = $value;
            }
        }
        if (!\in_array($act, ['save', 'watch', 'unwatch', 'leave'], true)
            || !$this->questions->change($viewer, $texts, 'leave' !== $act, 'watch' === $act)) {
            throw $this->createNotFoundException('There is no such question.');
        }

        return $this->redirectToRoute('search', [], Response::HTTP_SEE_OTHER);
    }

    /** In which forms words stand in a capture, as its window marks them. */
    #[Route('/c/{code}/finds', name: 'capture_finds', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function finds(Capture $capture, Request $request): Response
    {
        $asked = mb_strcut(trim($request->query->getString('q')), 0, Question::LONGEST);
        try {
            $finds = $this->searcher->finds($asked);
            $pieces = Writing::ofDocument($this->content->document($capture))->pieces;
        } catch (WarcError) {
            // Its window says that it cannot be read.
            [$finds, $pieces] = [new Finds([]), []];
        }
        $texts = [];
        foreach ($pieces as $piece) {
            foreach (-1 === $piece->passage ? [] : $finds->in($piece->text) as $find) {
                $text = substr($piece->text, $find->from, $find->to - $find->from);
                $texts[$text] ??= [$text, self::isWhole($piece->text, $find->from, $find->to)];
            }
            if (\count($texts) >= self::MOST_FORMS) {
                break;
            }
        }

        return new JsonResponse([
            'finds' => array_values($texts),
            'life' => $this->generateUrl('address_words', ['code' => $capture->address->code, 'q' => $asked]),
        ]);
    }

    /** Whether it is a word by itself; where words are not parted it is none. */
    private static function isWhole(string $text, int $from, int $to): bool
    {
        return 1 !== preg_match('/[\p{L}\p{M}\p{N}]$/Du', mb_scrub(mb_strcut($text, max(0, $from - 8), min($from, 8))))
            && 1 !== preg_match('/^[\p{L}\p{M}\p{N}]/u', mb_strcut($text, $to, 8));
    }

    /** @return array{string, string}|null kind and name of where it is looked, where that is not everywhere */
    private function place(Viewer $viewer, SearchWish $wish): ?array
    {
        return match (true) {
            null !== $wish->address => ['address', $this->addresses->byCode($viewer, $wish->address)->url ?? ''],
            null !== $wish->dossier => ['dossier', $this->dossiers->byCode($viewer, $wish->dossier)->name ?? ''],
            null !== $wish->item => ['item', $this->items->byCode($viewer, $wish->item)->title ?? ''],
            default => null,
        };
    }
}
