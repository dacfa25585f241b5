<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
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
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Invitations;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\Value\LogLine;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Role;

/** People, for administrators. */
#[AsController]
#[Allow(Right::Administer)]
final readonly class PersonController
{
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private PersonRepository $people,
        private PersonChanges $changes,
        private Invitations $invitations,
        private PeopleLog $log,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Lists people in the order in which they were made.', body: 'People', query: Told::LIST)]
    #[Needs(Scope::Admin, Right::Administer)]
    #[Route('/api/people', name: 'api_people', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->people->after(Answers::after($request), $most + 1);

        return Answers::list(array_map(self::told(...), $found), $most, fn (): string => $this->urls->generate(
            'api_people', ['after' => $found[$most - 1]->id(), 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
        ));
    }

    #[Told('Tells of a person.', body: 'Person')]
    #[Needs(Scope::Admin, Right::Administer)]
    #[Route('/api/people/{code}', name: 'api_person', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(string $code): JsonResponse
    {
        return Answers::json(self::told($this->found($code)));
    }

    #[Told('Gives a person another role, closes them, or has them come back.', body: 'Person', takes: 'PersonChange',
        type: 'application/merge-patch+json', also: [412, 428])]
    #[Needs(Scope::Admin, Right::Administer)]
    #[Route('/api/people/{code}', name: 'api_person_change', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function change(Actor $actor, string $code, Request $request): JsonResponse
    {
        $person = $this->changes->exclusively($this->found($code), function (Person $person) use ($actor, $request): void {
            Answers::mustMatch($request, self::etag($person));
            $fields = Fields::ofPatch($request);
            $role = $fields->one('role', Role::class);
            $closed = $fields->bool('closed');
            $fields->done();
            try {
                if (null !== $role) {
                    $this->changes->setRole($actor, $person, $role);
                }
                true === $closed ? $this->changes->close($actor, $person) : null;
                false === $closed ? $this->changes->open($actor, $person) : null;
            } catch (CannotChange $e) {
                throw InvalidFields::at(true === $closed ? '/closed' : '/role', $e->trans($this->translator));
            }
        });

        return Answers::json(self::told($person));
    }

    #[Told('Invites somebody: by a link that holds once and for a day.', 201, 'Invitation', 'InvitationRequest', also: [409])]
    #[Needs(Scope::Admin, Right::Administer)]
    #[Route('/api/people/invitations', name: 'api_invite', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function invite(Actor $actor, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $role = $fields->one('role', Role::class);
        if (null === $role && !$fields->isWrong()) {
            $fields->wrong('role', $this->translator->trans('people.choose_a_role'));
        }
        $mail = $fields->text('mail', Invitations::LONGEST_MAIL) ?? '';
        $fields->done();
        try {
            $invitation = $this->invitations->invite($actor, $role ?? Role::Reader, $mail);
        } catch (CannotChange $e) {
            throw InvalidFields::at('/mail', $e->trans($this->translator));
        }

        return Answers::json(['link' => $invitation->link, 'mailedTo' => $invitation->mailedTo], Response::HTTP_CREATED);
    }

    #[Told('Lists what the log of people says, the newest line first.', body: 'LogLines', query: Told::LIST)]
    #[Needs(Scope::Admin, Right::Administer)]
    #[Route('/api/people/log', name: 'api_people_log', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function log(Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $after = Answers::after($request);
        $found = $this->log->page(0 === $after ? null : $after, $most + 1);

        return Answers::list(array_map(static fn (LogLine $line): array => [
            'id' => $line->id, 'at' => Answers::moment($line->at), 'act' => $line->act->value, 'who' => $line->who, 'whom' => $line->whom,
            'detail' => $line->detail, 'network' => $line->network,
        ], $found), $most, fn (): string => $this->urls->generate(
            'api_people_log', ['after' => $found[$most - 1]->id, 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
        ));
    }

    private function found(string $code): Person
    {
        return $this->people->byCode($code) ?? throw new NotFoundHttpException();
    }

    /** @return array<string, mixed> */
    private static function told(Person $person): array
    {
        return [
            'code' => $person->code, 'name' => $person->name, 'role' => $person->role->value, 'mail' => $person->mail,
            'madeAt' => Answers::moment($person->madeAt), 'closed' => $person->isClosed(), 'secondStep' => null !== $person->secondStep,
            'etag' => self::etag($person),
        ];
    }

    private static function etag(Person $person): string
    {
        return $person->code.'-'.$person->role->value.($person->isClosed() ? '-closed' : '');
    }
}
