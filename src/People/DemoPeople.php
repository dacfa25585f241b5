<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\People\Value\DemoPerson;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;

/** The people of the demo. Their passwords stand on its sign-in page, for everybody; where real work is done, there are none of them. */
final readonly class DemoPeople
{
    public function __construct(
        private PersonRepository $people,
        private PersonChanges $changes,
        private Passwords $passwords,
        #[Autowire('%kernel.project_dir%/demo/people.json')] private string $file,
        #[Autowire('%env(YPOMNA_MODE)%')] private string $mode,
        #[Autowire('%kernel.secret%'), \SensitiveParameter] private string $secret,
    ) {
    }

    /** @return list<DemoPerson> none where this is no demo */
    public function all(): array
    {
        if ('demo' !== $this->mode) {
            return [];
        }
        $read = json_decode((string) file_get_contents($this->file), true, 8, \JSON_THROW_ON_ERROR);
        $people = [];
        foreach (\is_array($read) ? $read : [] as $one) {
            if (\is_array($one) && \is_string($one['name'] ?? null) && \is_string($one['role'] ?? null)
                && \is_string($one['password'] ?? null)) {
                $people[] = new DemoPerson($one['name'], Role::from($one['role']), $one['password']);
            }
        }

        return $people;
    }

    /** Makes those who are missing. */
    public function make(): void
    {
        $by = '';
        foreach ($this->all() as $one) {
            $by = Role::Administrator === $one->role ? $one->name : $by;
        }
        foreach ($this->all() as $one) {
            if (null === $this->people->named($one->name)) {
                $this->changes->add(new Actor($by), $one->name, $one->role, null, $this->passwords->hash($one->password, $one->name));
            }
        }
    }

    public function investigator(): string
    {
        return $this->all()[0]->name ?? '';
    }

    /** Part of the demo's address. */
    public function key(): string
    {
        return substr(hash_hmac('sha256', 'address of the demo', $this->secret), 0, 40);
    }

    public function isKey(string $key): bool
    {
        return 'demo' === $this->mode && hash_equals($this->key(), $key);
    }
}
