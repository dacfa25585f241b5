<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\References\Repairs;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\UnreadableDraft;

/** The references of documents: how they stand, and what is held of them. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ReferenceController
{
    /** Bytes of a text. Documents in files come over the screen. */
    public const LONGEST = 1_048_576;

    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private ReferenceLists $lists,
        private Repairs $repairs,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Lists documents whose references were handed in, the last one first.', body: 'ReferenceLists', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/references', name: 'api_references', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->lists->before(Answers::after($request), $most + 1);
        $counts = $this->lists->countsOf(array_map(static fn (ReferenceList $one): int => (int) $one->id, $found));

        return Answers::list(
            array_map(fn (ReferenceList $one): array => $this->told($one, $counts[(int) $one->id] ?? null), $found), $most,
            fn (): string => $this->urls->generate(
                'api_references', ['after' => $found[$most - 1]->id, 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
            ),
        );
    }

    #[Told('Takes in the references of a text, and has them checked.', 201, 'ReferenceList', 'ReferenceRequest', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/references', name: 'api_reference_begin', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function begin(Actor $actor, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $text = $fields->text('text', self::LONGEST) ?? '';
        $name = $fields->text('name', 190) ?? '';
        $fields->done();
        $path = tempnam(sys_get_temp_dir(), 'ypomna-references-');
        if (false === $path || false === file_put_contents($path, $text)) {
            throw new \RuntimeException('The text cannot be written.');
        }
        try {
            $list = $this->lists->begin($actor, $path, $name);
        } catch (UnreadableDraft $e) {
            throw InvalidFields::at('/text', $e->getMessage());
        } finally {
            @unlink($path);
        }

        return Answers::json($this->told($list), Response::HTTP_CREATED, [
            'Location' => $this->urls->generate('api_reference_list', ['code' => $list->code]),
        ]);
    }

    #[Told('Tells of the references of a document.', body: 'ReferenceList')]
    #[Needs(Scope::Read)]
    #[Route('/api/references/{code}', name: 'api_reference_list', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function one(ReferenceList $list): JsonResponse
    {
        return Answers::json($this->told($list));
    }

    #[Told('Lists the references of a document in their order, and what is held of each.', body: 'References', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/references/{code}/rows', name: 'api_reference_rows', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function rows(Viewer $viewer, ReferenceList $list, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->lists->rows($viewer, $list, '', Answers::after($request), $most + 1);

        return Answers::list(array_map(self::row(...), $found), $most, fn (): string => $this->urls->generate('api_reference_rows', [
            'code' => $list->code, 'after' => $found[$most - 1]->position, 'limit' => $most,
        ], UrlGeneratorInterface::ABSOLUTE_URL));
    }

    #[Told('Has all references of a document checked anew.', 202, 'ReferenceList', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/references/{code}/check', name: 'api_reference_check', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function check(ReferenceList $list): JsonResponse
    {
        $this->lists->ask($list);

        return Answers::json($this->told($list), Response::HTTP_ACCEPTED);
    }

    /** What is not named is as it was in the document. */
    #[Told('Leads references of a document to captures of them; those that are not named stay as they are.', body: 'Repaired',
        takes: 'Repair')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/references/{code}/repairs', name: 'api_reference_repair', requirements: self::CODE,
        defaults: FetchMetadataGuard::OPEN, methods: ['PUT'])]
    public function repair(Viewer $viewer, ReferenceList $list, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $wanted = array_flip($fields->numbers('positions', DraftReferences::MOST) ?? []);
        if (!$fields->isWrong()) {
            $possible = array_map(static fn (ReferenceRow $row): int => $row->position, $this->repairs->possible($viewer, $list));
            foreach (array_diff_key($wanted, array_flip($possible)) as $n) {
                $fields->wrong('positions/'.$n, $this->translator->trans('references.cannot_be_led_elsewhere'));
            }
            if ([] === $wanted) {
                $fields->wrong('positions', $this->translator->trans('references.nothing_ticked'));
            }
        }
        $fields->done();
        $repaired = $this->repairs->settle(
            $viewer, $list, static fn (ReferenceRow $row): bool => isset($wanted[$row->position]),
        );

        return Answers::json(['repaired' => $repaired] + array_map(fn (string $route): string => $this->urls->generate(
            $route, ['code' => $list->code], UrlGeneratorInterface::ABSOLUTE_URL,
        ), ['document' => 'reference_repaired', 'alterations' => 'reference_alterations']));
    }

    /** @return array<string, mixed> */
    private static function row(ReferenceRow $row): array
    {
        return [
            'position' => $row->position, 'url' => $row->url, 'label' => $row->label, 'accessed' => $row->accessed?->format('Y-m-d'),
            'state' => $row->live->word(), 'checkedAt' => Answers::moment($row->live->checkedAt), 'capture' => $row->capture,
            'capturedAt' => Answers::moment($row->capturedAt), 'elsewhere' => $row->elsewhere['url'] ?? null,
            'repairedTo' => $row->repairTo,
        ];
    }

    /**
     * @param array<string, int>|null $counts null to ask for them
     *
     * @return array<string, mixed>
     */
    private function told(ReferenceList $list, ?array $counts = null): array
    {
        return [
            'code' => $list->code, 'name' => $list->name, 'format' => $list->format->value, 'bytes' => $list->bytes,
            'sha256' => $list->sha256, 'madeAt' => Answers::moment($list->madeAt), 'madeBy' => $list->agent,
            'askedAt' => Answers::moment($list->askedAt), 'counts' => $counts ?? $this->lists->counts($list),
        ];
    }
}
