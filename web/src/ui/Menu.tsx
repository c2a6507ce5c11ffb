import { DropdownMenu } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

interface MenuProps {
  /** What opens it. */
  trigger: ReactElement;
  children: ReactNode;
}

/** Actions behind a button. */
export function Menu({ trigger, children }: MenuProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={2} collisionPadding={6} className="listed">
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface ItemProps {
  onSelect: () => void;
  disabled?: boolean;
  testid?: string;
  children: ReactNode;
}

export function MenuItem({ onSelect, disabled, testid, children }: ItemProps) {
  return (
    <DropdownMenu.Item className="listed-item" disabled={disabled} data-testid={testid} onSelect={onSelect}>
      {children}
    </DropdownMenu.Item>
  );
}

interface CheckProps extends ItemProps {
  checked: boolean;
}

export function MenuCheck({ checked, onSelect, disabled, testid, children }: CheckProps) {
  return (
    <DropdownMenu.CheckboxItem
      className="listed-item"
      checked={checked}
      disabled={disabled}
      data-testid={testid}
      onSelect={onSelect}
    >
      {children}
      <DropdownMenu.ItemIndicator className="ml-auto pl-3">✓</DropdownMenu.ItemIndicator>
    </DropdownMenu.CheckboxItem>
  );
}

export function MenuRule() {
  return <DropdownMenu.Separator className="my-1 h-px bg-rule" />;
}
