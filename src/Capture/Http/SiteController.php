<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Sites\Crawls;
use Ypomna\App\Capture\Sites\SitePreview;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Capture\Sites\Value\SiteReport;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\InvalidRules;

use function Symfony\Component\Translation\t;

/** Whole sites: asking for one, seeing beforehand what that takes, watching it, and what came of it. */
#[Allow(Right::Keep)]
final class SiteController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(private readonly Crawls $crawls)
    {
    }

    #[Route('/sites', name: 'sites', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): Response
    {
        return $this->form($viewer, ['seeds' => mb_strcut($request->query->getString('of'), 0, 8_192)]);
    }

    /** What the wish would take, as far as can be told before. */
    #[Route('/sites/look', name: 'site_look', methods: ['POST'])]
    #[IsCsrfTokenValid('site')]
    public function look(Viewer $viewer, Request $request, SitePreview $preview): Response
    {
        $fields = self::fields($request);
        $alone = null === $request->headers->get('HX-Request');
        try {
            $seen = $preview->of($viewer, SiteOptions::ofForm($fields));
        } catch (InvalidAddress|InvalidRules $e) {
            return $alone
                ? $this->form($viewer, $fields, $e->getMessage())
                : $this->render('capture/_site_look.html.twig', ['why' => $e->getMessage(), 'seen' => null]);
        }

        return $alone
            ? $this->form($viewer, $fields, null, $seen)
            : $this->render('capture/_site_look.html.twig', ['why' => null, 'seen' => $seen]);
    }

    #[Route('/sites', name: 'site_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('site')]
    public function begin(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $fields = self::fields($request);
        try {
            $wish = SiteOptions::ofForm($fields);
        } catch (InvalidAddress|InvalidRules $e) {
            return $this->form($viewer, $fields, $e->getMessage());
        }
        if ('' === $wish->overruled) {
            return $this->form($viewer, $fields, t('capture.no_reason'));
        }

        return $this->redirectToRoute('site', ['code' => $this->crawls->begin($actor, $wish)->code], Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Read)]
    #[Route('/sites/{code}', name: 'site', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, string $code, Request $request): Response
    {
        return $this->render('capture/site_one.html.twig', $this->shown($viewer, $this->found($viewer, $code), $request));
    }

    #[Allow(Right::Read)]
    #[Route('/sites/{code}/progress', name: 'site_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, string $code, Request $request): Response
    {
        $crawl = $this->found($viewer, $code);

        return $this->render(
            'capture/_site.html.twig',
            $this->shown($viewer, $crawl, $request),
            new Response('', ListState::Running === $crawl->state ? Response::HTTP_OK : self::STOP_POLLING),
        );
    }

    #[Route('/sites/{code}', name: 'site_act', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('site')]
    public function act(Viewer $viewer, string $code, Request $request): Response
    {
        $crawl = $this->found($viewer, $code);
        $kind = $request->request->getString('kind');
        match ($request->request->getString('act')) {
            'pause' => $this->crawls->pause($crawl),
            'go-on' => $this->crawls->goOn($crawl),
            'more' => $this->crawls->goOn($crawl, $crawl->mostPages),
            'cancel' => $this->crawls->cancel($crawl),
            'follow' => 1 === preg_match('/^[0-9a-f]{16}$/D', $kind) ? $this->crawls->reopen($crawl, (string) hex2bin($kind)) : null,
            default => throw $this->createNotFoundException('There is no such thing to do with a site.'),
        };

        return $this->redirectToRoute('site', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    /** All pages with what came of them, as a table or as JSON; of any number of pages. */
    #[Allow(Right::Read)]
    #[Route(
        '/sites/{code}/report.{format}',
        name: 'site_report',
        requirements: ['code' => Codes::PATTERN, 'format' => 'json|csv'],
        methods: ['GET'],
    )]
    public function report(Viewer $viewer, string $code, string $format): Response
    {
        $crawl = $this->found($viewer, $code);
        $report = new SiteReport($this->crawls, $crawl);

        return new StreamedResponse(static function () use ($viewer, $report, $format): void {
            foreach ('csv' === $format ? $report->csv($viewer) : $report->json($viewer) as $piece) {
                echo $piece;
            }
        }, Response::HTTP_OK,
            [
                'Content-Type' => 'csv' === $format ? 'text/csv; charset=utf-8' : 'application/json',
                'Content-Disposition' => 'attachment; filename="site-'.$crawl->code.'.'.$format.'"',
                'X-Content-Type-Options' => 'nosniff',
            ]);
    }

    /**
     * @param array<string, string> $fields
     * @param array<string, mixed>|null $seen
     */
    private function form(
        Viewer $viewer,
        array $fields,
        string|TranslatableInterface|null $why = null,
        ?array $seen = null,
    ): Response {
        return $this->render(
            'capture/sites.html.twig',
            ['sites' => $this->crawls->newest($viewer), 'fields' => $fields, 'why' => $why, 'seen' => $seen],
            new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY),
        );
    }

    /**
     * @return array<string, string>
     */
    private static function fields(Request $request): array
    {
        $fields = [];
        foreach ([
            'seeds', 'name', 'reach', 'depth', 'includes', 'excludes', 'how', 'overrule', 'reason', 'pause', 'pages', 'megabytes',
            'confidential', 'minutes',
        ] as $name) {
            $fields[$name] = mb_strcut($request->request->getString($name), 0, 100_000);
        }
        $fields['maps'] = '1' === $request->request->getString('maps') ? '1' : '0';

        return $fields;
    }

    /**
     * @return array<string, mixed>
     */
    private function shown(Viewer $viewer, Crawl $crawl, Request $request): array
    {
        $after = max(0, $request->query->getInt('after'));
        $state = $request->query->getString('state');

        return [
            'site' => $crawl,
            'counts' => $this->crawls->counts($viewer, $crawl),
            'pages' => $this->crawls->pages($viewer, $crawl, $state, $after),
            'after' => $after,
            'state' => $state,
            'reasons' => $this->crawls->reasons($crawl),
            'traps' => $this->crawls->traps($crawl),
            'files' => $this->crawls->files($crawl),
            'ran' => $this->crawls->ran($crawl),
        ];
    }

    private function found(Viewer $viewer, string $code): Crawl
    {
        return $this->crawls->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such site.');
    }
}
