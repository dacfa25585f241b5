<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\InPublic;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Value\CapturePair;
use Ypomna\App\Compare\Comparisons;
use Ypomna\App\Compare\LastViewed;
use Ypomna\App\Compare\LinkFates;
use Ypomna\App\Compare\NoiseSettings;
use Ypomna\App\Compare\SideBySide;
use Ypomna\App\Compare\Value\ComparedCaptures;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Replay\CaptureLinks;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\ReadingRights;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\PartComparison;
use Ypomna\Core\Compare\Weight;
use Ypomna\Core\Warc\WarcError;

use function Symfony\Component\Translation\t;

/** Two captures beside each other. */
#[Allow(Right::Read)]
final class CompareController extends AbstractController
{
    private const PAIR = ['one' => Codes::PATTERN, 'other' => Codes::PATTERN];

    public function __construct(
        private readonly AddressRepository $addresses,
        private readonly CaptureRepository $captures,
        private readonly Comparisons $comparisons,
        private readonly PageHosts $hosts,
        private readonly PublicUrl $public,
        private readonly ReadingRights $rights,
        private readonly NoiseSettings $noise,
        private readonly LastViewed $lastViewed,
        private readonly LinkFates $fates,
        private readonly ReadingProof $proof,
    ) {
    }

    /** Takes the two that were ticked in a list. */
    #[InPublic]
    #[Route('/compare', name: 'compare_chosen', methods: ['GET'])]
    public function chosen(Request $request): Response
    {
        $codes = array_values(array_filter(
            $request->query->all('c'),
            static fn (mixed $code): bool => \is_string($code) && 1 === preg_match('/^'.Codes::PATTERN.'$/D', $code),
        ));
        if (2 !== \count($codes)) {
            return $this->render(
                'compare/choose_two.html.twig',
                ['chosen' => \count($codes), 'back' => $request->query->getString('address')],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->redirectToRoute('compare', ['one' => $codes[0], 'other' => $codes[1]]);
    }

    /** Both pages as they were, with the changes marked in them. */
    #[InPublic]
    #[Route('/compare/{one}/{other}', name: 'compare', requirements: self::PAIR, methods: ['GET'])]
    public function pages(Viewer $viewer, CapturePair $pair, Request $request): Response
    {
        return $this->view($viewer, $request, 'compare/pages.html.twig', $pair, fn (ComparedCaptures $compared): array => [
            'frames' => [
                'old' => $this->frame($viewer, $compared->old),
                'new' => $this->frame($viewer, $compared->new),
            ],
            'proofs' => ['old' => $this->proof->of($compared->old->code), 'new' => $this->proof->of($compared->new->code)],
            'marks' => $compared->marks(), 'scopes' => array_map(static fn (RuleScope $scope): string => $scope->value, RuleScope::cases()),
        ]);
    }

    #[InPublic]
    #[Route('/compare/{one}/{other}/text', name: 'compare_text', requirements: self::PAIR, methods: ['GET'])]
    public function text(Viewer $viewer, CapturePair $pair, Request $request): Response
    {
        $as = $request->query->getString('as', 'sides');

        return $this->view($viewer, $request, 'compare/show.html.twig', $pair, static fn (ComparedCaptures $compared): array => [
            'as' => \in_array($as, ['sides', 'unified', 'changes'], true) ? $as : 'sides',
            'rows' => SideBySide::rows($compared->before->passages, $compared->after->passages, $compared->report->comparison->changes),
        ]);
    }

    /** A capture and any other one: by its permanent address, or the newest of an address. */
    #[InPublic]
    #[Route('/compare/any', name: 'compare_any', methods: ['GET'], priority: 1)]
    public function any(Viewer $viewer, Request $request): Response
    {
        $one = $this->captures->byCode($viewer, $request->query->getString('one'))
            ?? throw $this->createNotFoundException('There is no capture at this permanent address.');
        $typed = trim($request->query->getString('other'));
        $other = 1 === preg_match('~(?:^|/c/)('.Codes::PATTERN.')(?:[/?#]|$)~', $typed, $m)
            ? $this->captures->byCode($viewer, $m[1])
            : null;
        try {
            $address = null === $other ? $this->addresses->of($viewer, (string) Url::typed($typed)) : null;
        } catch (InvalidAddress) {
            $address = null;
        }
        $other ??= null === $address ? null : $this->captures->lastAlive($viewer, $address) ?? $this->captures->last($viewer, $address);
        if (null === $other) {
            return $this->render(
                'catalogue/no_address.html.twig',
                [
                    'typed' => $typed,
                    'why' => t('compare.no_capture', ['typed' => mb_strimwidth($typed, 0, 200, '…')]),
                ],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->redirectToRoute('compare', ['one' => $one->code, 'other' => $other->code]);
    }

    /** What is new since the address was looked at last. */
    #[Route('/address/{code}/since', name: 'compare_since', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function since(Viewer $viewer, Address $address): Response
    {
        $seen = $this->lastViewed->of($viewer, $address);
        $last = $this->captures->last($viewer, $address);
        if (null === $seen || null === $last || $seen->code === $last->code) {
            return $this->render('compare/nothing_new.html.twig', ['address' => $address, 'seen' => $seen, 'last' => $last]);
        }

        return $this->redirectToRoute('compare', ['one' => $seen->code, 'other' => $last->code]);
    }

    /**
     * @param callable(ComparedCaptures): array<string, mixed> $more
     */
    private function view(Viewer $viewer, Request $request, string $template, CapturePair $pair, callable $more): Response
    {
        [$old, $new] = [$pair->old, $pair->new];
        try {
            $compared = $this->comparisons->between($old, $new);
        } catch (WarcError $e) {
            return $this->render(
                'compare/unreadable.html.twig',
                ['old' => $old, 'new' => $new, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_CONFLICT),
            );
        }
        $this->lastViewed->note($viewer, $new, $request);

        return $this->render($template, [
            'old' => $old, 'new' => $new, 'compared' => $compared, 'comparison' => $compared->report->comparison,
            'report' => $compared->report, 'groups' => $compared->byWeight(), 'rules' => $this->noise->settings($new->address),
            'died' => $this->fates->died($viewer, $old, $new, $compared->after),
            'counts' => array_combine(
                array_map(static fn (Weight $weight): string => $weight->value, Weight::cases()),
                array_map($compared->count(...), Weight::cases()),
            ),
            'metadata' => PartComparison::metadata($compared->before, $compared->after),
            'parts' => PartComparison::parts($compared->before, $compared->after),
        ] + $more($compared));
    }

    private function frame(Viewer $viewer, Capture $capture): string
    {
        // What was seen is compared, so it is shown as it was rendered, without scripts.
        $label = $this->rights->label($viewer, $capture->code);

        return (new CaptureLinks($this->hosts, $label, ReplayMode::Still, $this->public->scheme, $this->public->portPart()))
            ->place(Url::parse($capture->url));
    }
}
