<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\Entity\CaptureList;
use Ypomna\App\Capture\Lists\PageLists;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\HeldAddresses;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\AddressList;
use Ypomna\Core\Address\ListedAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Link;
use Ypomna\Core\Warc\WarcError;

use function Symfony\Component\Translation\t;

/** Many pages at once: from a list, a file, or the links of a page; looked through before it begins. */
#[Allow(Right::Keep)]
final class ListController extends AbstractController
{
    private const STOP_POLLING = 286;
    private const MAX_FILE = 16_777_216;

    public function __construct(private readonly PageLists $lists)
    {
    }

    #[Route('/lists', name: 'lists', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request, CaptureRepository $captures, CaptureContent $content): Response
    {
        $capture = $captures->byCode($viewer, $request->query->getString('of'));
        $given = '';
        try {
            $links = null === $capture ? [] : $content->document($capture)->links;
            $given = implode(
                "\n",
                array_unique(array_filter(
                    array_map(static fn (Link $link): string => explode('#', $link->href)[0], $links),
                    static fn (string $href): bool => 1 === preg_match('#^https?://#', $href),
                )),
            );
        } catch (WarcError) {
            // What cannot be read has no links to offer.
        }

        return $this->render(
            'capture/lists.html.twig',
            ['lists' => $this->lists->newest($viewer), 'given' => $given, 'of' => $capture, 'why' => null],
        );
    }

    #[Route('/lists/look', name: 'list_look', methods: ['POST'])]
    #[IsCsrfTokenValid('list')]
    public function look(Viewer $viewer, Request $request, HeldAddresses $held): Response
    {
        $text = $request->request->getString('addresses');
        $file = $request->files->get('file');
        if ($file instanceof UploadedFile && $file->isValid() && $file->getSize() <= self::MAX_FILE) {
            $text .= ('' === $text ? '' : "\n").file_get_contents($file->getPathname());
        }
        $list = AddressList::read($text);
        if ([] === $list->addresses) {
            return $this->render(
                'capture/lists.html.twig',
                [
                    'lists' => $this->lists->newest($viewer),
                    'given' => mb_strcut(mb_scrub($text), 0, 100_000),
                    'of' => null,
                    'why' => t('capture.no_addresses'),
                ],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->render('capture/list_look.html.twig', [
            'list' => $list, 'name' => $file instanceof UploadedFile ? $file->getClientOriginalName() : '',
            'held' => $held->of($viewer, array_map(static fn (ListedAddress $one): string => $one->url, $list->addresses)),
        ]);
    }

    #[Route('/lists', name: 'list_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('list')]
    public function begin(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $chosen = array_values(array_filter(
            \array_slice($form->all('a'), 0, AddressList::MOST),
            static fn (mixed $url): bool => \is_string($url) && true === Url::tryParse($url)?->isWeb(),
        ));
        $overruled = '1' === $form->getString('overrule') ? trim($form->getString('reason')) : null;
        if ([] === $chosen || '' === $overruled) {
            $why = [] === $chosen ? t('capture.nothing_ticked') : t('capture.no_reason');
            /** @var list<string> $chosen */

            return $this->render(
                'capture/lists.html.twig',
                ['lists' => $this->lists->newest($viewer), 'given' => implode("\n", $chosen), 'of' => null, 'why' => $why],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        /** @var list<string> $chosen */
        $list = $this->lists->begin(
            $actor,
            $form->getString('name'),
            $chosen,
            'plain' === $form->getString('how') ? CaptureMode::Plain : CaptureMode::Rendered,
            $overruled,
            '1' === $form->getString('confidential'),
        );

        return $this->redirectToRoute('list', ['code' => $list->code], Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Read)]
    #[Route('/lists/{code}', name: 'list', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, string $code, Request $request): Response
    {
        return $this->render('capture/list_one.html.twig', $this->shown($viewer, $this->found($viewer, $code), $request));
    }

    #[Allow(Right::Read)]
    #[Route('/lists/{code}/progress', name: 'list_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, string $code, Request $request): Response
    {
        $list = $this->found($viewer, $code);
        $shown = $this->shown($viewer, $list, $request);

        return $this->render(
            'capture/_list.html.twig',
            $shown,
            new Response('', ListState::Running === $list->state || $shown['counts']['open'] > 0 ? Response::HTTP_OK : self::STOP_POLLING),
        );
    }

    #[Route('/lists/{code}', name: 'list_act', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('list')]
    public function act(Viewer $viewer, string $code, Request $request): Response
    {
        $list = $this->found($viewer, $code);
        match ($request->request->getString('act')) {
            'pause' => $this->lists->pause($list),
            'go-on' => $this->lists->goOn($list),
            'cancel' => $this->lists->cancel($list),
            default => throw $this->createNotFoundException('There is no such thing to do with a list.'),
        };

        return $this->redirectToRoute('list', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    /**
     * @return array{
     *     list: CaptureList, counts: array{all: int, waiting: int, open: int, whole: int, gaps: int, failed: int},
     *     pages: list<array<string, mixed>>, after: int,
     * }
     */
    private function shown(Viewer $viewer, CaptureList $list, Request $request): array
    {
        $after = max(0, $request->query->getInt('after'));

        return [
            'list' => $list, 'counts' => $this->lists->counts($viewer, $list), 'pages' => $this->lists->pages($viewer, $list, $after),
            'after' => $after,
        ];
    }

    private function found(Viewer $viewer, string $code): CaptureList
    {
        return $this->lists->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such list.');
    }
}
