import { Field, Label, Switch } from '@headlessui/react'

/** On or off. */
export function Toggle(props: { label: string; checked: boolean; onChange(checked: boolean): void }) {
  return (
    <Field className="flex items-center justify-between gap-2 py-1.5">
      <Label className="cursor-pointer text-text">{props.label}</Label>
      <Switch
        checked={props.checked}
        onChange={props.onChange}
        className="group relative h-4 w-8 border border-edge bg-night data-checked:border-safe"
      >
        <span className="absolute top-[2px] left-[2px] h-2.5 w-3 bg-quiet transition-transform group-data-checked:translate-x-3.5 group-data-checked:bg-safe" />
      </Switch>
    </Field>
  )
}
