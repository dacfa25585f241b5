<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureFinder;
use Ypomna\App\Catalogue\Codes;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Warc\WarcError;

/** Two captures beside each other. */
final class CompareController extends AbstractController
{
    public function __construct(private readonly CaptureFinder $captures, private readonly CaptureContent $content, private readonly PictureDigests $pictures)
    {
    }

    /** Takes the two that were ticked in a list. */
    #[Route('/compare', name: 'compare_chosen', methods: ['GET'])]
    public function chosen(Request $request): Response
    {
        $codes = array_values(array_filter($request->query->all('c'), static fn (mixed $code): bool => \is_string($code) && 1 === preg_match('/^'.Codes::PATTERN.'$/D', $code)));
        if (2 !== \count($codes)) {
            return $this->render('compare/choose_two.html.twig', ['chosen' => \count($codes), 'back' => $request->query->getString('address')], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }

        return $this->redirectToRoute('compare', ['one' => $codes[0], 'other' => $codes[1]]);
    }

    #[Route('/compare/{one}/{other}', name: 'compare', requirements: ['one' => Codes::PATTERN, 'other' => Codes::PATTERN], methods: ['GET'])]
    public function compare(string $one, string $other): Response
    {
        $old = $this->found($one);
        $new = $this->found($other);
        // The earlier one is always the old one, whichever was ticked first.
        if ($old->capturedAt > $new->capturedAt) {
            [$old, $new] = [$new, $old];
        }
        try {
            $before = $this->content->document($old);
            $after = $this->content->document($new);
        } catch (WarcError $e) {
            return $this->render('compare/unreadable.html.twig', ['old' => $old, 'new' => $new, 'why' => $e->getMessage()], new Response('', Response::HTTP_CONFLICT));
        }
        $comparison = PageComparison::of($before, $after, $this->pictures->of($old, $before), $this->pictures->of($new, $after));

        return $this->render('compare/show.html.twig', [
            'old' => $old, 'new' => $new, 'comparison' => $comparison, 'rows' => SideBySide::rows($before->passages, $after->passages, $comparison->changes),
        ]);
    }

    private function found(string $code): Capture
    {
        return $this->captures->byCode($code) ?? throw $this->createNotFoundException('There is no capture at this permanent address.');
    }
}
