<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\HttpKernel\Exception\UnsupportedMediaTypeHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\CaptureWish;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Api\Value\ComingUpload;
use Ypomna\App\Api\Value\SeenBy;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Exchange\Witnesses;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Warc\WitnessStatement;

/** Files that programs hand in: in one piece, or in several, which can be broken off and gone on with. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ArrivalController
{
    private const LONGEST_NAME = 255;
    private const LONGEST_ADDRESS = 8_192;
    private const LONGEST_PICTURE = 1_048_576;
    private const LONGEST_PART = 1_000;
    private const MOST_MISSING = 100;
    /** Fields of an answer, and a value's length. */
    private const MOST_FIELDS = 200;
    private const LONGEST_FIELD = 8_000;
    private const PIECE = 'application/offset+octet-stream';

    public function __construct(
        private Arrivals $arrivals,
        private ChosenDossier $dossiers,
        private JobList $jobs,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
        private ClockInterface $realTime,
    ) {
    }

    #[Told('Hands in a file in one piece.', 202, 'Begun', 'ArrivalForm', 'multipart/form-data', also: [409])]
    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/arrivals', name: 'api_arrival', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function whole(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        if (!str_starts_with(strtolower($request->headers->get('Content-Type') ?? ''), 'multipart/form-data')) {
            throw new UnsupportedMediaTypeHttpException();
        }
        $unknown = array_diff(array_keys($request->request->all() + $request->files->all()), ['file', 'fields']);
        if ([] !== $unknown) {
            throw InvalidFields::at('/'.Fields::escaped((string) current($unknown)), 'No such field is known here.');
        }
        $file = $request->files->get('file');
        $body = $file instanceof UploadedFile && $file->isValid() ? fopen($file->getPathname(), 'r') : false;
        if (!$file instanceof UploadedFile || false === $body) {
            throw InvalidFields::at('/file', 'A file is wanted.');
        }
        $fields = Fields::ofText($request->request->getString('fields', '{}'), 'fields/');
        $said = $this->said($actor, $viewer, $fields);
        $fields->done();

        return $this->taken(function () use ($actor, $file, $body, $said): Arrival {
            $arrival = $this->arrivals->begin(
                $actor, $file->getClientOriginalName(), (int) $file->getSize(), self::made($said),
                (string) hash_file('sha256', $file->getPathname()), $said,
            );
            $this->arrivals->add($arrival, 0, $body);
            $this->arrivals->complete($arrival);

            return $arrival;
        });
    }

    #[Told('Begins to hand in a file in pieces.', 201, 'Upload', 'UploadRequest', also: [409])]
    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/arrivals/upload', name: 'api_upload', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function begin(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $name = $fields->text('name', self::LONGEST_NAME, false);
        $bytes = $fields->number('bytes');
        $sha256 = $fields->text('sha256', 64, false);
        if (null === $name && !$fields->isWrong()) {
            $fields->wrong('name', 'The name of the file is wanted.');
        }
        if (null === $bytes && !$fields->isWrong()) {
            $fields->wrong('bytes', 'The length of the file is wanted.');
        }
        if (null === $sha256 || 1 !== preg_match('/^[0-9a-fA-F]{64}$/D', $sha256)) {
            $fields->wrong('sha256', 'The SHA-256 of the file is wanted, in 64 hex digits.');
        }
        $inner = $fields->inner('fields');
        $said = null === $inner ? new SaidOfArrival() : $this->said($actor, $viewer, $inner, true);
        $fields->take($inner);
        $fields->done();
        try {
            $arrival = $this->arrivals->begin($actor, (string) $name, (int) $bytes, self::made($said), strtolower((string) $sha256), $said);
        } catch (UnusableFile $e) {
            throw InvalidFields::at('/bytes', $e->trans($this->translator));
        }

        return Answers::json(['upload' => $arrival->code, 'offset' => $this->arrivals->size($arrival)], Response::HTTP_CREATED, [
            'Location' => $this->urls->generate('api_upload_piece', ['code' => $arrival->code]),
        ]);
    }

    #[Told('Tells how much of a file is there.', body: 'Upload')]
    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/arrivals/upload/{code}', name: 'api_upload_offset', defaults: FetchMetadataGuard::OPEN, methods: ['HEAD', 'GET'])]
    public function offset(ComingUpload $upload): JsonResponse
    {
        $there = $this->arrivals->size($upload->arrival);

        return Answers::json(
            ['upload' => $upload->arrival->code, 'offset' => $there, 'bytes' => $upload->arrival->bytes], 200,
            ['Upload-Offset' => (string) $there, 'Upload-Length' => (string) $upload->arrival->bytes],
        );
    }

    #[Told(
        'Adds a piece at Upload-Offset; with the last one it is a job (202).', 204, null, 'Piece', 'application/offset+octet-stream',
        also: [409],
    )]
    #[Needs(Scope::Capture, Right::Keep)]
    #[Route('/api/arrivals/upload/{code}', name: 'api_upload_piece', defaults: FetchMetadataGuard::OPEN, methods: ['PATCH'])]
    public function piece(ComingUpload $upload, Request $request): Response
    {
        $arrival = $upload->arrival;
        if (self::PIECE !== strtolower(trim(explode(';', $request->headers->get('Content-Type') ?? '')[0]))) {
            throw new UnsupportedMediaTypeHttpException();
        }
        $at = $request->headers->get('Upload-Offset') ?? '';
        if (1 !== preg_match('/^\d{1,18}$/D', $at)) {
            throw new BadRequestHttpException();
        }
        if ((int) $at !== $this->arrivals->size($arrival)) {
            throw new ConflictHttpException('', null, 0, ['Upload-Offset' => (string) $this->arrivals->size($arrival)]);
        }
        try {
            $there = $this->arrivals->add($arrival, (int) $at, $request->getContent(true));
        } catch (UnusableFile $e) {
            throw InvalidFields::at('', $e->trans($this->translator));
        }
        if ($there >= $arrival->bytes && $arrival->said()->beside) {
            try {
                $this->arrivals->completeBeside($arrival);
            } catch (UnusableFile $e) {
                throw InvalidFields::at('/file', $e->trans($this->translator));
            }
        }
        if ($there < $arrival->bytes || $arrival->said()->beside) {
            return new Response('', Response::HTTP_NO_CONTENT, ['Upload-Offset' => (string) $there, 'Cache-Control' => 'no-store']);
        }
        $answer = $this->taken(function () use ($arrival): Arrival {
            $this->arrivals->complete($arrival);

            return $arrival;
        });
        $answer->headers->set('Upload-Offset', (string) $there);

        return $answer;
    }

    /** @param \Closure(): Arrival $take */
    private function taken(\Closure $take): JsonResponse
    {
        try {
            $arrival = $take();
        } catch (UnusableFile $e) {
            throw InvalidFields::at('/file', $e->trans($this->translator));
        }

        return Answers::json(
            ['job' => $arrival->code, 'state' => 'waiting'], Response::HTTP_ACCEPTED,
            ['Location' => $this->urls->generate('api_job', ['code' => $arrival->code])],
        );
    }

    private function said(Actor $actor, Viewer $viewer, Fields $fields, bool $mayBeBeside = false): SaidOfArrival
    {
        $wish = CaptureWish::of($viewer, $fields, $this->dossiers, $this->translator);
        $seenBy = $fields->one('seenBy', SeenBy::class);
        $url = $fields->text('url', self::LONGEST_ADDRESS);
        if (null !== $url && 1 !== preg_match('/^https?$/', Url::tryParse($url)->scheme ?? '')) {
            $fields->wrong('url', 'An address of the web is wanted, as http://lantern.test/.');
        }
        $at = $fields->moment('capturedAt');
        if (null !== $at && null !== $seenBy && $at > $this->realTime->now()->modify('+1 day')) {
            $fields->wrong('capturedAt', 'It is not that day yet.');
        }
        $picture = $fields->text('picture', self::LONGEST_PICTURE);
        if (null !== $picture && null === Witnesses::bytes($picture) && null === $this->arrivals->beside($actor, $picture)) {
            $fields->wrong('picture', 'A data: address of a picture (PNG, JPEG, WebP) is wanted, or the code of an upload of yours that was'
                .' begun with "beside": true and is whole.');
        }
        $with = $fields->text('with', 20);
        if (null !== $with && null === $this->jobs->byCode($viewer, $with)) {
            $fields->wrong('with', 'There is no such job.');
        }
        $isBeside = $fields->bool('beside') ?? false;
        if ($isBeside && !$mayBeBeside) {
            $fields->wrong('beside', 'What belongs to another file is uploaded before it.');
        }

        [$seen, $answered] = self::seen($fields);

        return new SaidOfArrival(
            $wish->description->title, $wish->description->why, $wish->description->tags, $wish->dossier, $wish->due?->format('Y-m-d'),
            $wish->confidential, $seenBy?->value, $url, Answers::moment($at), $picture, $seen,
            $fields->text('part', self::LONGEST_PART), $fields->texts('missing', self::MOST_MISSING, self::LONGEST_PART) ?? [], $isBeside,
            $with, $answered,
        );
    }

    /**
     * What the browser saw; what it did not see is not there, or null.
     *
     * @return array{array<string, string|int>, list<array{string, string}>|null} of the answer and of itself, and the answer's fields
     */
    private static function seen(Fields $fields): array
    {
        $inner = $fields->inner('seen');
        $seen = [];
        foreach (WitnessStatement::NUMBERS as $name) {
            $seen[$name] = $inner?->number($name);
        }
        foreach (WitnessStatement::WORDS as $name) {
            $seen[$name] = $inner?->text($name, self::LONGEST_PART);
        }
        $answered = null;
        foreach ($inner?->list('fields', self::MOST_FIELDS) ?? [] as $field) {
            $name = $field->text('name', self::LONGEST_PART, false) ?? '';
            $value = $field->text('value', self::LONGEST_FIELD, false);
            // A field's name is a token (RFC 9110, section 5.1); what follows a line's end would be another field.
            if (!$field->isWrong() && 1 !== preg_match('/^[!#$%&\'*+.^_`|~0-9A-Za-z-]+$/D', $name)) {
                $field->wrong('name', 'This is no name of a field.');
            }
            if (!$field->isWrong() && (null === $value || 1 === preg_match('/[\x00\r\n]/', $value))) {
                $field->wrong('value', 'A field has one line.');
            }
            $inner?->take($field);
            $answered[] = [$name, $value ?? ''];
        }
        $fields->take($inner);

        return [array_filter($seen, static fn (string|int|null $one): bool => null !== $one), $answered];
    }

    /** When the file was made, as far as that is known: Unix time. */
    private static function made(SaidOfArrival $said): int
    {
        return null === $said->capturedAt ? time() : (new \DateTimeImmutable($said->capturedAt))->getTimestamp();
    }
}
