<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\Value\CapturePair;
use Ypomna\App\Compare\ComparisonReports;
use Ypomna\App\Replay\AppHeaders;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Warc\WarcError;

/** A comparison to hand to somebody else, with what is needed to make it again. */
#[Allow(Right::Read)]
final class ReportController extends AbstractController
{
    public function __construct(private readonly ComparisonReports $reports)
    {
    }

    #[Route(
        '/compare/{one}/{other}/report.{form}',
        name: 'compare_report',
        requirements: ['one' => Codes::PATTERN, 'other' => Codes::PATTERN, 'form' => 'html|json|txt'],
        defaults: ['form' => 'html'],
        methods: ['GET'],
    )]
    public function report(CapturePair $pair, string $form, Request $request): Response
    {
        [$old, $new] = [$pair->old, $pair->new];
        try {
            return match ($form) {
                'json' => (new JsonResponse())->setEncodingOptions(
                    \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
                )->setData($this->reports->data($old, $new)),
                'txt' => new Response(
                    $this->renderView('compare/report.txt.twig', $this->reports->facts($old, $new)), Response::HTTP_OK,
                    ['Content-Type' => 'text/plain; charset=utf-8'],
                ),
                default => $this->page($request, $this->reports->facts($old, $new)),
            };
        } catch (WarcError $e) {
            return $this->render(
                'compare/unreadable.html.twig',
                ['old' => $old, 'new' => $new, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_CONFLICT),
            );
        }
    }

    /** @param array<string, mixed> $facts */
    private function page(Request $request, array $facts): Response
    {
        $html = $this->renderView('compare/report.html.twig', $facts + ['printed' => false]);
        if (1 === preg_match('~<style>(.*?)</style>~s', $html, $m)) {
            $request->attributes->set(AppHeaders::STYLE, base64_encode(hash('sha256', $m[1], true)));
        }

        return new Response($html);
    }
}
