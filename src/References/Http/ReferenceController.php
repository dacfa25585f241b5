<?php

declare(strict_types=1);

namespace Ypomna\App\References\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\Value\CheckLine;
use Ypomna\App\References\CitationWriter;
use Ypomna\App\References\DraftRepair;
use Ypomna\App\References\DraftStorage;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\UnreadableDraft;

/** All references of a document at once: how they stand, what is held of them, and the document repaired. */
final class ReferenceController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(private readonly ReferenceLists $desk, private readonly DraftStorage $shelf, private readonly CheckRepository $book, private readonly NewestFirst $newest, private readonly DataFolder $folder)
    {
    }

    #[Route('/references', name: 'references', methods: ['GET'])]
    public function all(): Response
    {
        return $this->lists();
    }

    #[Route('/references', name: 'reference_begin', methods: ['POST'])]
    public function begin(Actor $actor, Request $request): Response
    {
        if (!$this->isCsrfTokenValid('references', $request->request->getString('_token'))) {
            return $this->render('ui/refused.html.twig', ['typed' => ''], new Response('', Response::HTTP_FORBIDDEN));
        }
        $text = $request->request->getString('text');
        $file = $request->files->get('file');
        $made = null;
        try {
            if ($file instanceof UploadedFile) {
                if (!$file->isValid() || $file->getSize() > DraftStorage::LARGEST) {
                    throw new UnreadableDraft(\sprintf('The file did not arrive: documents of up to %d MB are taken.', intdiv(DraftStorage::LARGEST, 1_048_576)));
                }
                $list = $this->desk->begin($actor, $file->getPathname(), $file->getClientOriginalName());
            } else {
                $made = tempnam(sys_get_temp_dir(), 'ypomna-pasted-');
                if (false === $made || false === file_put_contents($made, $text)) {
                    throw new \RuntimeException('The text cannot be written down.');
                }
                $list = $this->desk->begin($actor, $made, '');
            }
        } catch (UnreadableDraft $e) {
            return $this->lists(mb_strcut($text, 0, 200_000), $e->getMessage());
        } finally {
            if (\is_string($made)) {
                @unlink($made);
            }
        }

        return $this->redirectToRoute('reference_list', ['code' => $list->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/references/{code}', name: 'reference_list', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, string $code, Request $request): Response
    {
        return $this->render('reference/list.html.twig', $this->shown($viewer, $this->found($code), $request));
    }

    #[Route('/references/{code}/progress', name: 'reference_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, string $code, Request $request): Response
    {
        $shown = $this->shown($viewer, $this->found($code), $request);

        return $this->render('reference/_list.html.twig', $shown, new Response('', $shown['busy'] ? Response::HTTP_OK : self::STOP_POLLING));
    }

    #[Route('/references/{code}', name: 'reference_act', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    public function act(Actor $actor, string $code, Request $request): Response
    {
        $form = $request->request;
        if (!$this->isCsrfTokenValid('references', $form->getString('_token'))) {
            return $this->render('ui/refused.html.twig', ['typed' => ''], new Response('', Response::HTTP_FORBIDDEN));
        }
        $list = $this->found($code);
        switch ($form->getString('act')) {
            case 'ask':
                $this->desk->ask($list);
                break;
            case 'stop':
                $this->desk->stop($list);
                break;
            case 'elsewhere':
                $this->desk->askElsewhere($list);
                break;
            case 'keep':
                $kept = $this->desk->keepAlive($actor, $list);

                return $this->redirectToRoute(...[...(null === $kept ? ['reference_list', ['code' => $code]] : ['list', ['code' => $kept->code]]), Response::HTTP_SEE_OTHER]);
            case 'remove':
                if ('1' === $form->getString('sure')) {
                    $this->desk->remove($list);

                    return $this->redirectToRoute('references', [], Response::HTTP_SEE_OTHER);
                }

                return $this->render('reference/remove.html.twig', ['list' => $list]);
            default:
                throw $this->createNotFoundException('There is no such thing to do with references.');
        }

        return $this->redirectToRoute('reference_list', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/references/{code}/document', name: 'reference_document', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function document(string $code): Response
    {
        $list = $this->found($code);
        $response = new BinaryFileResponse($this->shelf->path($code));
        $response->headers->set('Content-Type', 'application/octet-stream');
        $response->headers->set('Content-Disposition', self::attachment($this->fileName($list)));

        return $response;
    }

    #[Route('/references/{code}/table.csv', name: 'reference_table', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function table(Viewer $viewer, string $code): Response
    {
        $list = $this->found($code);
        $lines = function () use ($viewer, $list): \Generator {
            yield CsvLine::of(['number', 'note', 'address', 'verdict', 'reason', 'confidence', 'looked at', 'last seen', 'accessed', 'capture', 'captured', 'quotations standing', 'quotations', 'telling words', 'held elsewhere', 'context']);
            $after = 0;
            do {
                $rows = $this->desk->rows($viewer, $list, '', $after, 500);
                foreach ($rows as $row) {
                    $after = $row->position;
                    $utc = static fn (?\DateTimeImmutable $at): string => null === $at ? '' : $at->format('Y-m-d\TH:i:s\Z');
                    yield CsvLine::of([
                        (string) $row->position, $row->note ?? '', $row->url, $row->live->word(), $row->live->reason->value ?? '', null === $row->live->reason ? '' : (string) $row->live->confidence, $utc($row->live->lookedAt), $utc($row->live->seenAt), $row->accessed?->format('Y-m-d') ?? '',
                        null === $row->capture ? '' : $this->permanent($row->capture), $utc($row->capturedAt), null === $row->fit ? '' : (string) \count(array_filter($row->fit['quotes'], static fn (array $quote): bool => $quote['stands'])), null === $row->fit ? '' : (string) \count($row->fit['quotes']), (string) ($row->fit['share'] ?? ''), $row->elsewhere['url'] ?? '', $row->context,
                    ]);
                }
            } while ([] !== $rows);
        };

        return $this->streamed($lines(), 'text/csv; charset=utf-8', $this->baseName($list).' references.csv');
    }

    #[Route('/references/{code}/repair', name: 'reference_repair', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function repair(Viewer $viewer, string $code, DraftRepair $repair): Response
    {
        $list = $this->found($code);

        return $this->render('reference/repair.html.twig', ['list' => $list, 'rows' => $this->repairable($viewer, $list), 'altered' => null === $list->repairedAt ? [] : $repair->altered($viewer, $list), 'why' => null]);
    }

    #[Route('/references/{code}/repair', name: 'reference_settle', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    public function settle(Viewer $viewer, string $code, Request $request): Response
    {
        if (!$this->isCsrfTokenValid('references', $request->request->getString('_token'))) {
            return $this->render('ui/refused.html.twig', ['typed' => ''], new Response('', Response::HTTP_FORBIDDEN));
        }
        $list = $this->found($code);
        $ticked = array_fill_keys(array_filter($request->request->all('r'), \is_string(...)), true);
        $choices = [];
        foreach ($this->repairable($viewer, $list) as $row) {
            $refuge = $row->refuge();
            if (null !== $refuge && isset($ticked[(string) $row->id])) {
                $choices[$row->id] = [null === $row->capture ? $refuge[0] : $this->permanent($row->capture), $refuge[1]->format('Y-m-d')];
            }
        }
        if ([] === $choices) {
            return $this->render('reference/repair.html.twig', ['list' => $list, 'rows' => $this->repairable($viewer, $list), 'altered' => [], 'why' => 'Nothing was ticked, so nothing would be altered.'], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }
        $this->desk->settle($list, $choices);

        return $this->redirectToRoute('reference_repair', ['code' => $code, '_fragment' => 'repaired'], Response::HTTP_SEE_OTHER);
    }

    #[Route('/references/{code}/repaired', name: 'reference_repaired', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function repaired(Viewer $viewer, string $code, Request $request, DraftRepair $repair): Response
    {
        $list = $this->found($code);
        $path = $this->folder->newWork('repaired');
        try {
            $repair->write($viewer, $list, $path, $request->getLocale());
        } catch (UnreadableDraft $e) {
            @unlink($path);

            return $this->render('reference/repair.html.twig', ['list' => $list, 'rows' => $this->repairable($viewer, $list), 'altered' => [], 'why' => $e->getMessage()], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }
        // Given from here, not by the server in front: the file has no name any more when that would read it.
        $file = fopen($path, 'r');
        $bytes = (string) filesize($path);
        unlink($path);
        $response = $this->streamed(self::pieces($file), 'application/octet-stream', $this->baseName($list).' repaired.'.$list->format->extension());
        $response->headers->set('Content-Length', $bytes);

        return $response;
    }

    #[Route('/references/{code}/alterations.csv', name: 'reference_alterations', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function alterations(Viewer $viewer, string $code, DraftRepair $repair): Response
    {
        $list = $this->found($code);

        return $this->streamed($repair->table($viewer, $list), 'text/csv; charset=utf-8', $this->baseName($list).' alterations.csv');
    }

    #[Route('/references/{code}/citations', name: 'reference_citations', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function citations(Viewer $viewer, string $code, Request $request, CitationWriter $writer): Response
    {
        $list = $this->found($code);
        $styles = $writer->styles();
        $style = $request->query->getString('style');
        $style = isset($styles[$style]) ? $style : (string) array_key_first($styles);
        $rows = $this->desk->rows($viewer, $list, '', 0, DraftReferences::MOST);
        $permanent = $this->permanent(...);
        if ('json' === $request->query->getString('as')) {
            return new JsonResponse((string) json_encode($writer->items($rows, $permanent), \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE), Response::HTTP_OK, ['Content-Type' => 'application/vnd.citationstyles.csl+json', 'Content-Disposition' => self::attachment($this->baseName($list).' citations.json')], true);
        }
        try {
            $written = $writer->write($rows, $style, $permanent, $request->getLocale());
            $why = null;
        } catch (UnreadableDraft $e) {
            [$written, $why] = [[], $e->getMessage()];
        }
        if ('text' === $request->query->getString('as')) {
            $lines = implode('', array_map(static fn (array $one): string => $one[0].('' === $one[1] ? '' : ' '.$one[1].' '.$one[2].'.')."\n", $written));

            return new Response($lines, Response::HTTP_OK, ['Content-Type' => 'text/plain; charset=utf-8', 'Content-Disposition' => self::attachment($this->baseName($list).' citations.txt')]);
        }

        return $this->render('reference/citations.html.twig', ['list' => $list, 'styles' => $styles, 'style' => $style, 'written' => $written, 'why' => $why], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    /**
     * @return array{list: ReferenceList, counts: array<string, int>, rows: list<ReferenceRow>, looks: array<int, CheckLine>, word: string, after: int, busy: bool, page_size: int}
     */
    private function shown(Viewer $viewer, ReferenceList $list, Request $request): array
    {
        $word = $request->query->getString('only');
        $after = max(0, $request->query->getInt('after'));
        $counts = $this->desk->counts($list);
        $rows = $this->desk->rows($viewer, $list, $word, $after);

        return [
            'list' => $list, 'counts' => $counts, 'rows' => $rows, 'looks' => $this->book->last(array_values(array_unique(array_map(static fn (ReferenceRow $row): int => $row->live->id, $rows)))),
            'word' => $word, 'after' => $after, 'busy' => $counts['open'] > 0 || null === $list->matchedAt, 'page_size' => ReferenceLists::PAGE,
        ];
    }

    /**
     * @return list<ReferenceRow> those that can be led elsewhere
     */
    private function repairable(Viewer $viewer, ReferenceList $list): array
    {
        return array_values(array_filter($this->desk->rows($viewer, $list, '', 0, DraftReferences::MOST), static fn (ReferenceRow $row): bool => null !== $row->refuge() && 'alive' !== $row->live->word()));
    }

    private function permanent(string $code): string
    {
        return $this->generateUrl('read', ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }

    /**
     * @param resource|false $file
     *
     * @return \Generator<int, string>
     */
    private static function pieces($file): \Generator
    {
        while (false !== $file && !feof($file)) {
            yield (string) fread($file, 65_536);
        }
    }

    /** @param \Generator<int, string> $lines */
    private function streamed(\Generator $lines, string $type, string $name): Response
    {
        return new StreamedResponse(static function () use ($lines): void {
            foreach ($lines as $line) {
                echo $line;
            }
        }, Response::HTTP_OK, ['Content-Type' => $type, 'Content-Disposition' => self::attachment($name)]);
    }

    private function fileName(ReferenceList $list): string
    {
        return '' === $list->fileName ? 'references.'.$list->format->extension() : $list->fileName;
    }

    private function baseName(ReferenceList $list): string
    {
        return pathinfo($this->fileName($list), \PATHINFO_FILENAME);
    }

    private static function attachment(string $name): string
    {
        $name = trim((string) preg_replace('/[\/\\\\\x00-\x1F\x7F]+/u', '-', mb_scrub($name)), '. ');
        $name = '' === $name ? 'document' : $name;

        return HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $name, (string) preg_replace('/[^\x20-\x24\x26-\x7E]+/', '_', $name));
    }

    private function found(string $code): ReferenceList
    {
        return $this->desk->byCode($code) ?? throw $this->createNotFoundException('There are no such references.');
    }

    private function lists(string $given = '', ?string $why = null): Response
    {
        $lists = $this->newest->of(ReferenceList::class);

        return $this->render('reference/lists.html.twig', [
            'lists' => $lists, 'counts' => $this->desk->countsOf(array_map(static fn (ReferenceList $list): int => (int) $list->id, $lists)), 'given' => $given, 'why' => $why,
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }
}
