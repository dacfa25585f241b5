<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Http;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Network\Reach\ReachProof;
use Ypomna\App\Replay\CatalogueHoldings;
use Ypomna\App\Replay\HostNames;
use Ypomna\App\Replay\PageAnswers;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\PageWords;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\ReadingRights;
use Ypomna\App\Replay\Value\PartQuery;
use Ypomna\App\Shared\PublicUrl;

/** Hands requests for archived pages to who answers them. */
#[AsController]
#[OpenToAnybody]
final readonly class PageController
{
    private PageAnswers $answers;

    public function __construct(
        private PageHosts $hosts,
        ReadingRights $rights,
        CatalogueHoldings $holdings,
        ReadingProof $proof,
        HostNames $names,
        private PublicUrl $public,
        private ReachProof $reached,
        Environment $twig,
        TranslatorInterface $translator,
        #[Autowire('%kernel.project_dir%/assets/replay-shim.js')] string $shim,
    ) {
        $words = new PageWords(
            $translator->trans('replay.picture_not_captured'),
            $translator->trans('replay.certainly_not_what_was_there_then'),
            static fn (string $url, string $inject): string => $twig->render(
                'replay/not_kept.html.twig', ['url' => $url, 'inject' => $inject],
            ),
        );
        $this->answers = new PageAnswers(
            $hosts, $rights, $holdings, $words, trim((string) file_get_contents($shim)), $proof, static fn (): array => $names->origins(),
        );
    }

    public function __invoke(Request $request): Response
    {
        $path = $request->getPathInfo();
        if (null === $this->hosts->label($request->getHost()) && 1 === preg_match('#^/reached/('.ReachProof::WORD.')$#D', $path, $m)) {
            // No archived page ever stands at such a host.
            return new Response($this->reached->answer($m[1], $request->isSecure()), Response::HTTP_OK, ['Content-Type' => 'text/plain']);
        }
        $headers = [];
        foreach ($request->headers->all() as $name => $values) {
            $headers[(string) $name] = (string) ($values[0] ?? '');
        }
        $body = 'POST' === $request->getMethod() ? hash('sha256', $request->getContent()) : null;
        $answer = $this->answers->to(new PartQuery(
            $request->getMethod(), $this->public->scheme, $request->getHost(), $this->public->portPart(), $request->getRequestUri(),
            $headers, $body,
        ));
        $response = new StreamedResponse(static function () use ($answer): void {
            foreach ($answer->body as $piece) {
                echo $piece;
                flush();
            }
        }, $answer->status, array_filter($answer->headers, static fn (?string $value): bool => null !== $value));
        $response->headers->remove('Set-Cookie');

        return $response;
    }
}
